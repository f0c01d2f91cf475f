import type { ReactNode } from 'react';
import { Button } from 'react-bootstrap';
import { ErrorBoundary } from 'react-error-boundary';

interface Props {
  /** What is kept alive beside it, and what broke, in a word or two. */
  readonly what: string;
  /** Another one begins anew. */
  readonly resetKey: string;
  readonly children: ReactNode;
}

/** A part of the page that breaks without taking the rest with it: it says so, and can be tried again. */
export function StationBoundary({ what, resetKey, children }: Props) {
  return (
    <ErrorBoundary
      resetKeys={[resetKey]}
      onError={(error) => console.error(`The ${what} broke down.`, error)}
      fallbackRender={({ resetErrorBoundary }) => (
        <div className="notice bad" role="alert">
          The {what} broke down while it was drawn. The design is untouched; the cause is in the browser’s console.
          <Button variant="plain" onClick={resetErrorBoundary}>
            Try again
          </Button>
        </div>
      )}
    >
      {children}
    </ErrorBoundary>
  );
}
