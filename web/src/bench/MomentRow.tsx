import { Eye, GitBranch, SquareSplitHorizontal, Undo2 } from "lucide-react";
import type { ReactNode } from "react";
import { useNavigate } from "react-router";
import { toast } from "sonner";
import { GrownPicture } from "../controls/GrownPicture";
import { returnTo } from "../live/edit";
import { useSession } from "../live/session";
import { create } from "../shelf/importFile";
import { changeView, useView } from "../studio/view";

interface Props {
  label: string;
  revision: number;
  /** When it was made, as the service says it. */
  at: string;
  author?: string;
  strong?: boolean;
  children?: ReactNode;
}

const BUTTON = "btn btn-ghost btn-xs btn-square";
const PRESSED = "btn btn-primary btn-xs btn-square";

/** One moment: look at it, compare with it, go back to it, branch from it. */
export function MomentRow({ label, revision, at, author, strong, children }: Props) {
  const navigate = useNavigate();
  const head = useSession((state) => state.head);
  const landscape = useSession((state) => state.landscape) ?? "";
  const compared = useView((view) => view.against === revision);
  const looked = useView((view) => view.at === revision);
  const isHead = head?.revision === revision;
  const branch = async () => {
    const name = `${head?.recipe.name ?? "Landscape"}, branch of ${label}`.slice(0, 200);
    try {
      const id = await create({ name, start: { branch: { landscape, revision } } });
      await navigate(`/landscapes/${id}`);
    } catch (error) {
      toast.error(error instanceof Error ? error.message : String(error));
    }
  };
  return (
    <li
      className={`flex items-start gap-1.5 rounded p-1 ${isHead ? "bg-base-200 outline-base-300 outline" : ""}`}
      data-testid={`revision-${revision}`}
    >
      <GrownPicture
        src={`/api/landscapes/${landscape}/picture.png?revision=${revision}`}
        className="bg-base-300 h-9 w-13 shrink-0 rounded-sm object-cover"
      />
      <div className="min-w-0 grow">
        <p className={`line-clamp-2 ${strong ? "font-semibold" : ""}`} title={label}>
          {label || "Edit"}
        </p>
        <div className="flex flex-wrap items-center gap-x-1">
          <span className="text-base-content/80 min-w-0 grow">
            {revision} · <time dateTime={at}>{moment(at)}</time>
            {author ? ` · ${author}` : ""}
          </span>
          <span className="flex">
            {!isHead && (
              <button
                type="button"
                className={looked ? PRESSED : BUTTON}
                aria-label={`Look at revision ${revision}`}
                aria-pressed={looked}
                title="Look at this moment; nothing changes"
                onClick={() => changeView({ at: looked ? null : revision })}
              >
                <Eye size={12} />
              </button>
            )}
            <button
              type="button"
              className={compared ? PRESSED : BUTTON}
              aria-label={`Compare with revision ${revision}`}
              aria-pressed={compared}
              title="Compare what is shown with this moment"
              onClick={() => changeView({ against: compared ? null : revision })}
            >
              <SquareSplitHorizontal size={12} />
            </button>
            {!isHead && (
              <button
                type="button"
                className={BUTTON}
                aria-label={`Return to revision ${revision}`}
                title="Go back to this moment; that can be undone"
                onClick={() => {
                  changeView({ at: null });
                  void returnTo(revision);
                }}
              >
                <Undo2 size={12} />
              </button>
            )}
            <button
              type="button"
              className={BUTTON}
              aria-label={`Branch from revision ${revision}`}
              title="Make a landscape of its own from this moment"
              onClick={() => void branch()}
            >
              <GitBranch size={12} />
            </button>
            {children}
          </span>
        </div>
      </div>
    </li>
  );
}

/** The time, with the day when it was not today. */
function moment(at: string): string {
  const date = new Date(at);
  const time = date.toLocaleTimeString([], { hour: "2-digit", minute: "2-digit" });
  const isToday = date.toDateString() === new Date().toDateString();
  return isToday ? time : `${date.toLocaleDateString()}, ${time}`;
}
