import { useRouteError } from 'react-router';
import { Button } from '../ui/button.tsx';

/** When the rest of the program did not come, or fell over. */
export function NotOpened() {
  const error = useRouteError();
  return (
    <main className="m-auto max-w-md p-8">
      <h1 className="mb-2 text-xl">This project cannot be shown</h1>
      <p className="mb-4">
        {error instanceof Error ? error.message : String(error)} What was saved is safe. See that Gephyra is running,
        then load the page again.
      </p>
      <Button onClick={() => location.reload()}>Load again</Button>
    </main>
  );
}

/** While a project is on its way. */
export const Opening = () => <p className="p-8 text-ink-soft">Opening the project.</p>;
