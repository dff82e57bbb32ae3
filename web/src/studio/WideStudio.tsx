import { ChevronDown, ChevronLeft, ChevronRight, ChevronUp } from "lucide-react";
import { Group, Panel, Separator } from "react-resizable-panels";
import { BenchPanel } from "../bench/BenchPanel";
import { Column } from "../column/Column";
import { DeliverPanel } from "../deliver/DeliverPanel";
import { LandPane } from "../land/LandPane";
import { Legend } from "../legend/Legend";
import { Section } from "../section/Section";
import { stageCalled } from "./stages";
import { changeView, useView, type Folded } from "./view";

const SIDE = "bg-base-100 h-full overflow-hidden";
const BAR = "bg-base-300 hover:bg-primary/60 data-[separator=active]:bg-primary";

/** All parts of the studio side by side; each at the edge can be folded away. */
export function WideStudio() {
  const stage = useView((view) => stageCalled(view.stage));
  const bench = useView((view) => view.bench);
  const folded = useView((view) => view.folded);
  const hasSide = stage.legend || (bench !== null && !stage.delivers);
  return (
    <div className="flex h-full">
      {folded.column && <Unfold part="column" name="Column" Icon={ChevronRight} />}
      <Group orientation="horizontal" className="min-w-0 grow">
        {!folded.column && (
          <>
            <Panel id="column" defaultSize="26%" minSize="16%" className={SIDE}>
              <Column />
            </Panel>
            <Separator className={`${BAR} w-1`} />
          </>
        )}
        <Panel id="middle" minSize="30%" className="relative">
          {stage.delivers ? <DeliverPanel /> : <Middle folded={folded.section} />}
          {!folded.column && <Fold part="column" name="Column" Icon={ChevronLeft} />}
          {hasSide && !folded.side && (
            <Fold part="side" name="Legend and bench" Icon={ChevronRight} />
          )}
        </Panel>
        {hasSide && !folded.side && (
          <>
            <Separator className={`${BAR} w-1`} />
            <Panel id="side" defaultSize="24%" minSize="15%" className={SIDE}>
              <Group orientation="vertical">
                {stage.legend && (
                  <Panel id="legend" minSize="20%">
                    <Legend />
                  </Panel>
                )}
                {stage.legend && bench && <Separator className={`${BAR} h-1`} />}
                {bench && !stage.delivers && (
                  <Panel id="bench" minSize="20%">
                    <BenchPanel />
                  </Panel>
                )}
              </Group>
            </Panel>
          </>
        )}
      </Group>
      {hasSide && folded.side && <Unfold part="side" name="Legend" Icon={ChevronLeft} />}
    </div>
  );
}

/** The land over its section. */
function Middle({ folded }: { folded: boolean }) {
  return (
    <div className="flex h-full flex-col">
      <Group orientation="vertical" className="min-h-0 grow">
        <Panel id="land" minSize="30%">
          <LandPane />
        </Panel>
        {!folded && (
          <>
            <Separator className={`${BAR} h-1`} />
            <Panel id="section" defaultSize="22%" minSize="10%" className="relative">
              <Section />
              <Fold part="section" name="Section" Icon={ChevronDown} />
            </Panel>
          </>
        )}
      </Group>
      {folded && <Unfold part="section" name="Section" Icon={ChevronUp} />}
    </div>
  );
}

interface FoldProps {
  part: keyof Folded;
  name: string;
  Icon: typeof ChevronLeft;
}

const set = (part: keyof Folded, away: boolean) => () =>
  changeView({ folded: { ...folds(), [part]: away } });
const folds = () => useView.getState().folded;

/** Where the button is that folds a part away: at the edge of the land that is its own. */
const EDGES: Record<keyof Folded, string> = {
  column: "top-1/2 left-0 h-12 w-[24px] -translate-y-1/2 rounded-r",
  side: "top-1/2 right-0 h-12 w-[24px] -translate-y-1/2 rounded-l",
  section: "top-0 right-0 h-[24px] w-12 rounded-bl",
};

function Fold({ part, name, Icon }: FoldProps) {
  return (
    <button
      type="button"
      className={`bg-base-100/70 hover:bg-primary hover:text-primary-content absolute z-10 grid place-items-center ${EDGES[part]}`}
      aria-label={`Fold ${name} away`}
      title={`Fold ${name} away`}
      data-testid={`fold-${part}`}
      onClick={set(part, true)}
    >
      <Icon size={14} />
    </button>
  );
}

/** What is left of a part that is folded away. */
function Unfold({ part, name, Icon }: FoldProps) {
  const lying = part === "section";
  return (
    <button
      type="button"
      className={`bg-base-200 hover:bg-base-300 border-base-300 flex shrink-0 items-center gap-1 text-xs ${
        lying
          ? "border-t px-2 py-0.5"
          : "w-6 flex-col justify-center border-x py-2 [writing-mode:vertical-rl]"
      }`}
      title={`${name} back`}
      data-testid={`unfold-${part}`}
      onClick={set(part, false)}
    >
      <Icon size={12} /> {name}
    </button>
  );
}
