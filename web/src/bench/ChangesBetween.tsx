import { useQuery } from "@tanstack/react-query";
import { answered, api } from "../api/client";
import { useSession } from "../live/session";
import { useView } from "../studio/view";

/** What changed from the moment that is compared with to the one that is shown, in words. */
export function ChangesBetween() {
  const landscape = useSession((state) => state.landscape) ?? "";
  const newest = useSession((state) => state.head?.revision);
  const from = useView((view) => view.against);
  const to = useView((view) => view.at) ?? newest;
  const { data, error } = useQuery({
    queryKey: ["changes", landscape, from, to],
    enabled: from !== null && to !== undefined,
    staleTime: Infinity,
    queryFn: () =>
      answered(
        api.GET("/api/landscapes/{id}/changes", {
          params: { path: { id: landscape }, query: { from: from ?? 0, to: to ?? 0 } },
        }),
      ),
  });
  return (
    <section className="bg-base-200 rounded p-2" data-testid="changes">
      <h3 className="font-semibold">
        From revision {from} to {to}
      </h3>
      {error && <p className="text-error">{error.message}</p>}
      {data?.length === 0 && <p>Nothing differs.</p>}
      <ul className="max-h-40 list-disc overflow-y-auto pl-4">
        {data?.map((change, i) => (
          <li key={i}>{change}</li>
        ))}
      </ul>
    </section>
  );
}
