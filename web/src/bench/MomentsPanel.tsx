import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Bookmark, Trash2 } from "lucide-react";
import { useState } from "react";
import { toast } from "sonner";
import { answered, api } from "../api/client";
import { momentsKey, useMoments } from "../api/useMoments";
import { useSession } from "../live/session";
import { useView } from "../studio/view";
import { ChangesBetween } from "./ChangesBetween";
import { MomentRow } from "./MomentRow";

/** Every edit, and the ones that were given a name. */
export function MomentsPanel() {
  const landscape = useSession((state) => state.landscape) ?? "";
  const head = useSession((state) => state.head);
  const against = useView((view) => view.against);
  const queries = useQueryClient();
  const [name, setName] = useState("");
  const path = { path: { id: landscape } };
  const moments = useMoments(landscape);
  const { data: revisions } = useQuery({
    queryKey: ["revisions", landscape, head?.revision],
    queryFn: () => answered(api.GET("/api/landscapes/{id}/revisions", { params: path })),
    placeholderData: (before) => before,
  });
  const refresh = () => queries.invalidateQueries({ queryKey: momentsKey(landscape) });
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
      {against !== null && <ChangesBetween />}
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
            <MomentRow
              key={moment.id}
              label={moment.name}
              revision={moment.revision}
              at={moment.created_at}
              strong
            >
              <button
                type="button"
                className="btn btn-ghost btn-xs btn-square"
                aria-label={`Forget the name ${moment.name}`}
                title="Take the name away; the revision stays"
                onClick={() => forget.mutate(moment.id)}
              >
                <Trash2 size={12} />
              </button>
            </MomentRow>
          ))}
        </ul>
      )}
      <h3 className="font-semibold">All edits</h3>
      <ul className="space-y-0.5">
        {revisions?.map((entry) => (
          <MomentRow
            key={entry.revision}
            label={entry.label}
            revision={entry.revision}
            at={entry.created_at}
            author={entry.author}
          />
        ))}
      </ul>
    </div>
  );
}
