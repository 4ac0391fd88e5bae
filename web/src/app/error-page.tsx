import { Button } from '@mantine/core';
import { useRouteError } from 'react-router';

/** What is shown when a view breaks: records are stored as they change, so going on loses nothing. */
export function ErrorPage() {
  const error = useRouteError();
  return (
    <div className="empty-area" role="alert">
      <h1>This view broke</h1>
      <p>{error instanceof Error ? error.message : String(error)}</p>
      <p>What you did is stored. Loading the page again goes on from there.</p>
      <Button onClick={() => window.location.assign('/shelf')}>Go to the Shelf</Button>
    </div>
  );
}
