import { download } from './download';

/** What the style sheets give to a shape, and a picture on its own must carry along. */
const CARRIED = [
  'fill',
  'fill-opacity',
  'stroke',
  'stroke-width',
  'stroke-dasharray',
  'stroke-linejoin',
  'opacity',
  'font-family',
  'font-size',
  'font-weight',
  'text-anchor',
] as const;

/** A drawing of the page as a file of its own: its styles put in, on the ground of the page. */
function alone(svg: SVGSVGElement): string {
  const copy = svg.cloneNode(true) as SVGSVGElement;
  const [shown, copied] = [svg.querySelectorAll('*'), copy.querySelectorAll('*')];
  shown.forEach((element, k) => {
    const style = getComputedStyle(element);
    for (const name of CARRIED) copied[k]?.setAttribute(name, style.getPropertyValue(name));
    for (const name of ['class', 'style', 'tabindex', 'role']) copied[k]?.removeAttribute(name);
  });
  const { width, height } = svg.getBoundingClientRect();
  copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg');
  copy.setAttribute('width', String(width));
  copy.setAttribute('height', String(height));
  copy.removeAttribute('class');
  const box = svg.viewBox.baseVal;
  const ground = document.createElementNS('http://www.w3.org/2000/svg', 'rect');
  for (const [name, value] of Object.entries({
    x: box.x,
    y: box.y,
    width: box.width,
    height: box.height,
    fill: getComputedStyle(document.body).backgroundColor,
  }))
    ground.setAttribute(name, String(value));
  copy.prepend(ground);
  return new XMLSerializer().serializeToString(copy);
}

/** Hand a drawing to the browser as an SVG file. */
export const saveSvg = (name: string, svg: SVGSVGElement): void => download(`${name}.svg`, 'image/svg+xml', alone(svg));

/** Dots of a PNG for each of the screen. */
const DOTS = 2;

/** Hand a drawing to the browser as a PNG file. */
export async function savePng(name: string, svg: SVGSVGElement): Promise<void> {
  const { width, height } = svg.getBoundingClientRect();
  const image = new Image();
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(alone(svg))}`;
  await image.decode();
  const canvas = document.createElement('canvas');
  canvas.width = DOTS * width;
  canvas.height = DOTS * height;
  canvas.getContext('2d')?.drawImage(image, 0, 0, canvas.width, canvas.height);
  const bytes = await new Promise<Blob | null>((done) => canvas.toBlob(done, 'image/png'));
  if (bytes) download(`${name}.png`, 'image/png', await bytes.arrayBuffer());
}
