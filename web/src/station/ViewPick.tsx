interface Props<T extends string> {
  /** What is picked between, for readers of screens. */
  readonly what: string;
  readonly views: readonly { readonly view: T; readonly words: string }[];
  readonly shown: T | undefined;
  readonly onPick: (view: T) => void;
}

/** The views of a station in a row, the one shown marked. */
export function ViewPick<T extends string>({ what, views, shown, onPick }: Props<T>) {
  return (
    <div className="picture-pick" role="group" aria-label={what}>
      {views.map(({ view, words }) => (
        <button key={view} type="button" aria-pressed={view === shown} onClick={() => onPick(view)}>
          {words}
        </button>
      ))}
    </div>
  );
}
