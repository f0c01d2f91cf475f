import checkCircle from 'bootstrap-icons/icons/check-circle-fill.svg';
import circleDotted from 'bootstrap-icons/icons/dash-circle-dotted.svg';
import chevronLeft from 'bootstrap-icons/icons/chevron-double-left.svg';
import chevronRight from 'bootstrap-icons/icons/chevron-double-right.svg';
import search from 'bootstrap-icons/icons/search.svg';
import moon from 'bootstrap-icons/icons/moon.svg';
import pinAngle from 'bootstrap-icons/icons/pin-angle-fill.svg';
import redo from 'bootstrap-icons/icons/arrow-clockwise.svg';
import sun from 'bootstrap-icons/icons/sun.svg';
import triangle from 'bootstrap-icons/icons/triangle-half.svg';
import undo from 'bootstrap-icons/icons/arrow-counterclockwise.svg';
import xOctagon from 'bootstrap-icons/icons/x-octagon-fill.svg';

const SHAPES = {
  holds: checkCircle,
  tight: triangle,
  fails: xOctagon,
  'not judged': circleDotted,
  pin: pinAngle,
  fold: chevronRight,
  unfold: chevronLeft,
  search,
  undo,
  redo,
  sun,
  moon,
} as const;

/** A shape in the colour of the text around it; the words beside it carry the meaning. */
export function Icon({ shape }: { readonly shape: keyof typeof SHAPES }) {
  return <span className="icon" aria-hidden="true" style={{ maskImage: `url("${SHAPES[shape]}")` }} />;
}
