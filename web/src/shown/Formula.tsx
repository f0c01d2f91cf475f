import { useEffect, useRef } from 'react';

/** A formula typeset from TeX, with MathML for screen readers; its bare text until the typesetter is there. */
export function Formula({ tex, display = false }: { readonly tex: string; readonly display?: boolean }) {
  const place = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    let current = true;
    import('./typeset').then(
      ({ katex }) => {
        // Rendered into the document (not as a string), as the content security policy allows no style text.
        if (current && place.current) katex.render(tex, place.current, { displayMode: display, throwOnError: false });
      },
      (error: unknown) => {
        console.error('The typesetter could not be loaded.', error);
        if (current && place.current) place.current.textContent = tex;
      },
    );
    return () => {
      current = false;
    };
  }, [tex, display]);
  return <span ref={place} className={display ? 'formula d-block' : undefined} />;
}
