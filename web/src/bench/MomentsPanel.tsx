import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Bookmark, GitBranch, SquareSplitHorizontal, Trash2, Undo2 } from "lucide-react";
import { useState } from "react";
import { useNavigate } from "react-router";
import { toast } from "sonner";
import { answered, api } from "../api/client";
import { returnTo } from "../live/edit";
import { useSession } from "../live/session";
import { create } from "../shelf/importFile";
import { changeView, useView } from "../studio/view";

/** Every edit, and the ones that were given a name. */
export function MomentsPanel() {
  const landscape = useSession((state) => state.landscape) ?? "";
  const head = useSession((state) => state.head);
  const queries = useQueryClient();
  const [name, setName] = useState("");
  const path = { path: { id: landscape } };
  const { data: moments } = useQuery({
    queryKey: ["moments", landscape],
    queryFn: () => answered(api.GET("/api/landscapes/{id}/moments", { params: path })),
  });
  const { data: revisions } = useQuery({
    queryKey: ["revisions", landscape, head?.revision],
    queryFn: () => answered(api.GET("/api/landscapes/{id}/revisions", { params: path })),
    placeholderData: (before) => before,
  });
  const refresh = () => queries.invalidateQueries({ queryKey: ["moments", landscape] });
  const failed = (failure: Error) => toast.error(failure.message);
  const keep = useMutation({
    mutationFn: () =>
      answered(
        api.POST("/api/landscapes/{id}/moments", {
          params: path,
          body: { name, revision: head?.revision ?? 0 },
        }),
      ),
    onSuccess: () => {
      setName("");
      return refresh();
    },
    onError: failed,
  });
  const forget = useMutation({
    mutationFn: (moment: string) =>
      answered(
        api.DELETE("/api/landscapes/{id}/moments/{moment}", {
          params: { path: { id: landscape, moment } },
        }),
      ),
    onSuccess: refresh,
    onError: failed,
  });

  return (
    <div className="space-y-3 text-xs">
      <form
        className="flex gap-1"
        onSubmit={(event) => {
          event.preventDefault();
          keep.mutate();
        }}
      >
        <input
          className="input input-xs grow"
          placeholder="Name this moment"
          aria-label="Name this moment"
          data-testid="moment-name"
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
        <button className="btn btn-xs" disabled={!name.trim()} data-testid="moment-keep">
          <Bookmark size={13} /> Keep
        </button>
      </form>
      {moments && moments.length > 0 && (
        <ul className="space-y-0.5">
          {moments.map((moment) => (
            <Row key={moment.id} label={moment.name} revision={moment.revision} strong>
              <button
                type="button"
                className="btn btn-ghost btn-xs btn-square"
                aria-label={`Forget the name ${moment.name}`}
                title="Take the name away; the revision stays"
                onClick={() => forget.mutate(moment.id)}
              >
                <Trash2 size={12} />
              </button>
            </Row>
          ))}
        </ul>
      )}
      <h3 className="font-semibold">All edits</h3>
      <ul className="space-y-0.5">
        {revisions?.map((entry) => (
          <Row key={entry.revision} label={entry.label} revision={entry.revision} />
        ))}
      </ul>
    </div>
  );
}

interface RowProps {
  label: string;
  revision: number;
  strong?: boolean;
  children?: React.ReactNode;
}

/** One moment: compare with it, go back to it, branch from it. */
function Row({ label, revision, strong, children }: RowProps) {
  const navigate = useNavigate();
  const head = useSession((state) => state.head);
  const landscape = useSession((state) => state.landscape) ?? "";
  const compared = useView((view) => view.against === revision);
  const isHead = head?.revision === revision;
  const branch = async () => {
    const name = `${head?.recipe.name ?? "Landscape"}, branch of ${label}`;
    try {
      const id = await create({ name, start: { branch: { landscape, revision } } });
      await navigate(`/landscapes/${id}`);
    } catch (error) {
      toast.error(error instanceof Error ? error.message : String(error));
    }
  };
  const button = "btn btn-ghost btn-xs btn-square";
  return (
    <li
      className={`flex items-center gap-0.5 rounded px-1 ${isHead ? "bg-base-300" : ""}`}
      data-testid={`revision-${revision}`}
    >
      <span className={`min-w-0 grow truncate ${strong ? "font-semibold" : ""}`} title={label}>
        <span className="text-base-content/80">{revision}</span> {label}
      </span>
      {!isHead && (
        <>
          <button
            type="button"
            className={compared ? "btn btn-primary btn-xs btn-square" : button}
            aria-label={`Compare with revision ${revision}`}
            aria-pressed={compared}
            title="Compare the land with this moment"
            onClick={() => changeView({ against: compared ? null : revision })}
          >
            <SquareSplitHorizontal size={12} />
          </button>
          <button
            type="button"
            className={button}
            aria-label={`Return to revision ${revision}`}
            title="Go back to this moment; that can be undone"
            onClick={() => void returnTo(revision)}
          >
            <Undo2 size={12} />
          </button>
        </>
      )}
      <button
        type="button"
        className={button}
        aria-label={`Branch from revision ${revision}`}
        title="Make a landscape of its own from this moment"
        onClick={() => void branch()}
      >
        <GitBranch size={12} />
      </button>
      {children}
    </li>
  );
}
