import { useSession } from "../live/session";
import { called } from "../live/people";

/** Who else works on this landscape. */
export function People() {
  const people = useSession((state) => state.people);
  if (people.length === 0) return null;
  return (
    <ul
      className="flex items-center -space-x-1"
      aria-label="Others who are here"
      data-testid="people"
    >
      {people.map(({ id, name }) => (
        <li
          key={id}
          className="bg-secondary text-secondary-content border-base-200 grid size-6 place-items-center rounded-full border text-xs font-semibold"
          title={`${called(name)} is here`}
        >
          {called(name).charAt(0).toUpperCase()}
          <span className="sr-only">{called(name).slice(1)} is here</span>
        </li>
      ))}
    </ul>
  );
}
