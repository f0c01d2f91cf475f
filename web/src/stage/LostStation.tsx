import { Link } from 'react-router';

/** Under an address of a stage that names no station. */
export function LostStation() {
  return (
    <>
      <h1>This stage has no such station</h1>
      <p>
        The stations stand at the side; <Link to="../targets">the targets</Link> come first.
      </p>
    </>
  );
}
