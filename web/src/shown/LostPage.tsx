import { Link } from 'react-router';
import { TopBar } from './TopBar';

/** Shown under an address that leads nowhere. */
export function LostPage() {
  return (
    <div className="frame">
      <TopBar />
      <main className="shelf">
        <h1>There is nothing at this address</h1>
        <p>
          The project or stage may have been deleted. <Link to="/">Go to the shelf</Link>, where deletions can be undone
          for as long as the note about them is shown.
        </p>
      </main>
    </div>
  );
}
