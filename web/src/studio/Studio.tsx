import { useEffect } from "react";
import { Link, useParams } from "react-router";
import { Group, Panel, Separator } from "react-resizable-panels";
import { BenchPanel } from "../bench/BenchPanel";
import { Column } from "../column/Column";
import { DeliverPanel } from "../deliver/DeliverPanel";
import { LandPane } from "../land/LandPane";
import { Legend } from "../legend/Legend";
import { closeSession, openSession, useSession } from "../live/session";
import { Section } from "../section/Section";
import { SheetDialog } from "../sheet/SheetDialog";
import { HelpSheet } from "./HelpSheet";
import { stageCalled } from "./stages";
import { StatusLine } from "./StatusLine";
import { TopBar } from "./TopBar";
import { useKeys } from "./useKeys";
import { openView, useView } from "./view";

/** One landscape, through all its stages. */
export function Studio() {
  const { id } = useParams();
  const stage = useView((view) => stageCalled(view.stage));
  const bench = useView((view) => view.bench);
  const alone = useView((view) => view.alone);
  const gone = useSession((state) => state.gone);
  useEffect(() => {
    if (!id) return;
    openSession(id);
    openView(id);
    return closeSession;
  }, [id]);
  useKeys();

  if (gone) {
    return (
      <main className="grid h-full place-items-center">
        <p>
          This landscape is not here any more.{" "}
          <Link className="link" to="/">
            Back to the shelf
          </Link>
        </p>
      </main>
    );
  }
  if (alone) {
    return (
      <main className="h-full">
        <LandPane />
      </main>
    );
  }
  const side = "bg-base-100 h-full overflow-hidden";
  const bar = "bg-base-300 hover:bg-primary/60 data-[separator=active]:bg-primary";
  return (
    <div className="flex h-full flex-col">
      <TopBar />
      <main className="min-h-0 grow">
        <Group orientation="horizontal">
          <Panel defaultSize="24%" minSize="16%" className={side}>
            <Column />
          </Panel>
          <Separator className={`${bar} w-1`} />
          <Panel minSize="30%">
            {stage.delivers ? (
              <DeliverPanel />
            ) : (
              <Group orientation="vertical">
                <Panel minSize="30%">
                  <LandPane />
                </Panel>
                <Separator className={`${bar} h-1`} />
                <Panel defaultSize="22%" minSize="10%">
                  <Section />
                </Panel>
              </Group>
            )}
          </Panel>
          {(stage.legend || (bench && !stage.delivers)) && (
            <>
              <Separator className={`${bar} w-1`} />
              <Panel defaultSize="23%" minSize="15%" className={side}>
                <Group orientation="vertical">
                  {stage.legend && (
                    <Panel minSize="20%">
                      <Legend />
                    </Panel>
                  )}
                  {stage.legend && bench && <Separator className={`${bar} h-1`} />}
                  {bench && (
                    <Panel minSize="20%">
                      <BenchPanel />
                    </Panel>
                  )}
                </Group>
              </Panel>
            </>
          )}
        </Group>
      </main>
      <StatusLine />
      <HelpSheet />
      <SheetDialog />
    </div>
  );
}
