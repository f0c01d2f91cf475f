import type { Sheet } from '@yundro/core';
import { PDFDocument, StandardFonts, type PDFFont } from 'pdf-lib';

/** Points: A4, its margin, and the sizes and leadings of text. */
const PAGE = [595.28, 841.89] as const;
const MARGIN = 56;
const SIZE = 10;
const LEADING = 14;
const NAMES = 110;

/** The standard fonts know Latin letters only: what they lack is written out. */
const plain = (text: string): string =>
  text
    .replaceAll('Ω', 'ohm')
    .replaceAll('−', '-')
    .replaceAll('≤', 'at most ')
    .replaceAll('“', '"')
    .replaceAll('”', '"')
    .replaceAll('’', "'")
    .replace(/[\u00a0\u2009\u202f]/g, ' ')
    .replaceAll('μ', 'µ')
    .replace(/[^\u0020-\u00ff]/g, '?');

/** Words in lines that are no wider than they may be. */
export function broken(text: string, width: number, measure: (text: string) => number): readonly string[] {
  const lines: string[] = [];
  let line = '';
  for (const word of text.split(' ')) {
    const longer = line === '' ? word : `${line} ${word}`;
    if (line !== '' && measure(longer) > width) {
      lines.push(line);
      line = word;
    } else line = longer;
  }
  return [...lines, line];
}

/** A sheet as PDF, A4. */
export async function sheetPdf({ title, sections }: Sheet): Promise<ArrayBuffer> {
  const document = await PDFDocument.create();
  document.setTitle(plain(title));
  const [text, bold] = await Promise.all([
    document.embedFont(StandardFonts.Helvetica),
    document.embedFont(StandardFonts.HelveticaBold),
  ]);
  let page = document.addPage([...PAGE]);
  let y = PAGE[1] - MARGIN;
  const down = (by: number): void => {
    y -= by;
    if (y > MARGIN) return;
    page = document.addPage([...PAGE]);
    y = PAGE[1] - MARGIN;
  };
  const write = (words: string, x: number, font: PDFFont, size = SIZE): void => {
    for (const line of broken(plain(words), PAGE[0] - MARGIN - x, (one) => font.widthOfTextAtSize(one, size))) {
      page.drawText(line, { x, y, size, font });
      down(size * (LEADING / SIZE));
    }
  };
  write(title, MARGIN, bold, 15);
  for (const { heading, lines } of sections) {
    down(LEADING / 2);
    write(heading, MARGIN, bold, 11);
    for (const line of lines) {
      if (typeof line === 'string') write(line, MARGIN, text);
      else {
        page.drawText(plain(line[0]), { x: MARGIN, y, size: SIZE, font: text });
        write(line[1], MARGIN + NAMES, text);
      }
    }
  }
  const bytes = await document.save();
  return new Uint8Array(bytes).buffer;
}
