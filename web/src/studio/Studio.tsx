import { useEffect } from "react";
import { Link, useParams } from "react-router";
import { validate } from "uuid";
import { LandPane } from "../land/LandPane";
import { closeSession, openSession, useSession } from "../live/session";
import { NotHere } from "../shelf/NotHere";
import { SheetDialog } from "../sheet/SheetDialog";
import { Announcer } from "./Announcer";
import { DropTarget } from "./DropTarget";
import { HelpSheet } from "./HelpSheet";
import { NarrowStudio } from "./NarrowStudio";
import { StatusLine } from "./StatusLine";
import { TopBar } from "./TopBar";
import { useKeys } from "./useKeys";
import { useNarrow } from "./useNarrow";
import { useWhere } from "./useWhere";
import { changeView, openView, useView } from "./view";
import { WideStudio } from "./WideStudio";

/** One landscape, through all its stages. */
export function Studio() {
  const { id } = useParams();
  return id && validate(id) ? <OfLandscape id={id} /> : <NotHere />;
}

function OfLandscape({ id }: { id: string }) {
  const alone = useView((view) => view.alone);
  const gone = useSession((state) => state.gone);
  const name = useSession((state) => state.head?.recipe.name);
  const editing = useSession((state) => state.draft !== null);
  const unsent = useSession((state) => state.unsent > 0);
  const narrow = useNarrow();
  useEffect(() => {
    openSession(id);
    openView(id);
    return closeSession;
  }, [id]);
  useEffect(() => {
    document.title = name ? `${name} — Morphogen` : "Morphogen";
    return () => void (document.title = "Morphogen");
  }, [name]);
  // Whoever changes the land wants to see what comes of it.
  useEffect(() => {
    if (editing) changeView({ at: null });
  }, [editing]);
  useEffect(() => {
    if (!unsent) return;
    const ask = (event: BeforeUnloadEvent) => event.preventDefault();
    window.addEventListener("beforeunload", ask);
    return () => window.removeEventListener("beforeunload", ask);
  }, [unsent]);
  useKeys();
  useWhere();

  if (gone) {
    return (
      <main className="grid h-full place-items-center p-4 text-center">
        <p>
          This landscape is not here any more. If it was deleted, it can be brought back on the{" "}
          <Link className="link" to="/">
            shelf
          </Link>{" "}
          for 30 days.
        </p>
      </main>
    );
  }
  if (alone) {
    return (
      <main className="h-full">
        <LandPane />
        <Announcer />
      </main>
    );
  }
  return (
    <DropTarget>
      <div className="flex h-full flex-col">
        <TopBar />
        <main className="min-h-0 grow">{narrow ? <NarrowStudio /> : <WideStudio />}</main>
        <StatusLine />
      </div>
      <Announcer />
      <HelpSheet />
      <SheetDialog />
    </DropTarget>
  );
}
