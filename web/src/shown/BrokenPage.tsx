import { useEffect } from 'react';
import { Button } from 'react-bootstrap';
import { Link, useRouteError } from 'react-router';

/** In place of a page that broke down, or could not be loaded: what is the case, and the way on. */
export function BrokenPage() {
  const error = useRouteError();
  useEffect(() => {
    console.error('The page broke down.', error);
  }, [error]);
  const unloaded = error instanceof TypeError && /import|fetch|module/i.test(error.message);
  return (
    <main className="shelf">
      <h1>{unloaded ? 'A part of this page could not be loaded' : 'This page broke down'}</h1>
      <p>
        {unloaded
          ? 'The server may be away, or Yundro was renewed since the page was opened.'
          : 'The cause is in the browser’s console.'}{' '}
        What was typed is kept in this browser.
      </p>
      <Button variant="outline-secondary" onClick={() => window.location.reload()}>
        Load it again
      </Button>{' '}
      <Link to="/">Go to the shelf</Link>
    </main>
  );
}
