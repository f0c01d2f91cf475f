interface Props<T extends string> {
  readonly id: string;
  readonly words: string;
  readonly value: T;
  readonly options: readonly { readonly value: T; readonly words: string }[];
  readonly onPick: (value: T) => void;
}

/** A choice of a tool with its words before it, as a row. */
export function PickField<T extends string>({ id, words, value, options, onPick }: Props<T>) {
  return (
    <div className="field">
      <label htmlFor={id}>{words}</label>
      <select id={id} className="pick" value={value} onChange={({ target }) => onPick(target.value as T)}>
        {options.map((one) => (
          <option key={one.value} value={one.value}>
            {one.words}
          </option>
        ))}
      </select>
    </div>
  );
}
