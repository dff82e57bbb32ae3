import { useIsFetching, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Working } from "../controls/Working";

/** What is done sooner is not spoken of. */
const SOON_MS = 300;

/** Says that something is being looked up or drawn beside the land, and stops it. */
export function Fetching() {
  const fetching = useIsFetching() > 0;
  const client = useQueryClient();
  const [long, setLong] = useState(false);
  useEffect(() => {
    if (!fetching) return;
    const timer = setTimeout(() => setLong(true), SOON_MS);
    return () => {
      clearTimeout(timer);
      setLong(false);
    };
  }, [fetching]);
  if (!fetching || !long) return null;
  return <Working what="working" onStop={() => void client.cancelQueries()} />;
}
