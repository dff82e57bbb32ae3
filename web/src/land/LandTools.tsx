import { Box, Footprints, Map as MapIcon, Maximize2, Pickaxe, Ruler, Spline } from "lucide-react";
import { changeView, useView } from "../studio/view";
import { handlerOf } from "../tools/handlers";
import { layDown, takeUp, type Tool } from "../tools/tool";
import { CameraMenu } from "./CameraTools";
import { LookMenu } from "./LookTools";

const TOOLS = [
  { tool: { name: "section" }, name: "Section", Icon: Spline },
  { tool: { name: "ruler" }, name: "Ruler", Icon: Ruler },
  { tool: { name: "core" }, name: "Core", Icon: Pickaxe },
] as const satisfies { tool: Tool; name: string; Icon: typeof Ruler }[];

/** How the land is looked at, and what the pointer does on it: one row. */
export function LandTools() {
  const projection = useView((view) => view.projection);
  const tool = useView((view) => view.tool);
  return (
    <div
      className="pointer-events-none absolute top-2 right-2 left-2 flex flex-wrap gap-2 *:pointer-events-auto"
      data-testid="land-tools"
    >
      <div className="join bg-base-100 rounded">
        {(["relief", "plan"] as const).map((entry) => (
          <button
            key={entry}
            type="button"
            className={`join-item btn btn-xs ${projection === entry ? "btn-neutral" : ""}`}
            aria-pressed={projection === entry}
            title={entry === "relief" ? "Relief in three dimensions (V)" : "Plan from above (V)"}
            data-testid={`show-${entry}`}
            onClick={() => changeView({ projection: entry })}
          >
            {entry === "relief" ? <Box size={13} /> : <MapIcon size={13} />}
            {entry === "relief" ? "Relief" : "Plan"}
          </button>
        ))}
      </div>
      <div className="join bg-base-100 rounded">
        {TOOLS.map(({ tool: entry, name, Icon }) => (
          <button
            key={name}
            type="button"
            className={`join-item btn btn-xs ${tool.name === entry.name ? "btn-neutral" : ""}`}
            aria-pressed={tool.name === entry.name}
            title={handlerOf(entry).hint}
            data-testid={`tool-${entry.name}`}
            onClick={() => takeUp(entry)}
          >
            <Icon size={13} /> {name}
          </button>
        ))}
        <StandButton />
      </div>
      <LookMenu />
      {projection === "relief" && <CameraMenu />}
      <button
        type="button"
        className="btn btn-xs ml-auto"
        title="The land alone, over the whole window (L)"
        aria-label="The land alone"
        data-testid="alone"
        onClick={() => changeView({ alone: true })}
      >
        <Maximize2 size={13} />
      </button>
    </div>
  );
}

/** The way down to eye height, and up again. */
function StandButton() {
  const standing = useView((view) => view.standing);
  const choosing = useView((view) => view.tool.name === "stand");
  const toggle = () => {
    if (standing) changeView({ standing: false, camera: null });
    else if (choosing) layDown();
    else takeUp({ name: "stand" });
  };
  return (
    <button
      type="button"
      className={`join-item btn btn-xs ${choosing || standing ? "btn-neutral" : ""}`}
      aria-pressed={choosing || standing}
      data-testid="stand"
      title={standing ? "Rise above the land again" : handlerOf({ name: "stand" }).hint}
      onClick={toggle}
    >
      <Footprints size={13} /> {standing ? "Leave the ground" : "Stand"}
    </button>
  );
}
