import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { toast } from "sonner";
import { answered, api } from "../api/client";
import type { ExportStatus, Wish } from "../api/types";
import { Estimator } from "../live/progress";
import { useSession } from "../live/session";

const POLL_MS = 250;

/** Whether an export waits for its turn or is being made. */
function isGoingOn(status: ExportStatus | undefined): boolean {
  return status?.state === "queued" || status?.state === "running";
}

/** One export: begun, watched, stopped. */
export function useExport() {
  const landscape = useSession((state) => state.landscape);
  const [job, setJob] = useState<string | null>(null);
  const [estimator] = useState(() => new Estimator());
  const { data } = useQuery({
    queryKey: ["export", job],
    enabled: job !== null,
    queryFn: async () => {
      const params = { path: { id: job ?? "" } };
      const found = await answered(api.GET("/api/exports/{id}", { params }));
      return { ...found, secondsLeft: estimator.secondsLeft(params.path.id, found.share) };
    },
    refetchInterval: (query) => (isGoingOn(query.state.data) ? POLL_MS : false),
  });
  const begin = async (wish: Wish, revision: number | null) => {
    if (!landscape) return;
    try {
      const { id } = await answered(
        api.POST("/api/landscapes/{id}/exports", {
          params: { path: { id: landscape } },
          body: { wish, revision },
        }),
      );
      setJob(id);
    } catch (error) {
      toast.error(error instanceof Error ? error.message : String(error));
    }
  };
  const stop = () => job && api.DELETE("/api/exports/{id}", { params: { path: { id: job } } });
  return { job, status: data, running: isGoingOn(data), begin, stop };
}
