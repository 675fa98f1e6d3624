import { Link, useLocation } from 'react-router';

/** What stands at an address that does not exist. */
export const NotFound = () => {
  const { pathname } = useLocation();
  return (
    <main className="mx-auto w-full max-w-4xl flex-1 px-6 py-8">
      <h1 className="mb-2 text-xl font-semibold">There is no such page</h1>
      <p className="mb-4 break-all">
        Nothing stands at {pathname}. It may have been mistyped, or have moved.
      </p>
      <Link to="/" className="underline decoration-rule underline-offset-4">
        Go to the batches
      </Link>
    </main>
  );
};
