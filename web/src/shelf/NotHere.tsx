import { Link } from "react-router";

/** An address at which there is nothing. */
export function NotHere() {
  return (
    <main className="grid h-full place-items-center">
      <p>
        There is nothing at this address.{" "}
        <Link className="link" to="/">
          Back to the shelf
        </Link>
      </p>
    </main>
  );
}
