import katex from 'katex';
import { useEffect, useRef } from 'react';

/** A formula typeset from TeX, with MathML for screen readers. */
export function Formula({ tex, display = false }: { readonly tex: string; readonly display?: boolean }) {
  const place = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    // Rendered into the document (not as a string), as the content security policy allows no style text.
    if (place.current) katex.render(tex, place.current, { displayMode: display, throwOnError: false });
  }, [tex, display]);
  return <span ref={place} className={display ? 'formula d-block' : undefined} />;
}
