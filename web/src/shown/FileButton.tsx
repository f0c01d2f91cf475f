interface Props {
  readonly words: string;
  /** Of the file chooser, as HTML has it. */
  readonly accept: string;
  readonly onFile: (file: File) => void;
}

/** A button that brings in a file; the same one may be brought again. */
export function FileButton({ words, accept, onFile }: Props) {
  return (
    <label className="file-button">
      {words}
      <input
        type="file"
        className="visually-hidden"
        accept={accept}
        onChange={({ target }) => {
          const [file] = target.files ?? [];
          if (file) onFile(file);
          target.value = '';
        }}
      />
    </label>
  );
}
