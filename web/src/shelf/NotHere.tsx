import { Link, useLocation } from "react-router";

/** An address at which there is nothing. */
export function NotHere() {
  const { pathname } = useLocation();
  return (
    <main className="grid h-full place-items-center p-4">
      <div className="space-y-2 text-center" data-testid="not-here">
        <h1 className="text-xl font-semibold">There is nothing at this address</h1>
        <p className="text-base-content/80 max-w-md truncate text-sm">{pathname}</p>
        <Link className="btn btn-sm" to="/">
          To the shelf
        </Link>
      </div>
    </main>
  );
}
