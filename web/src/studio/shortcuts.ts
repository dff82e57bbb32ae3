import { redo, undo } from "../live/edit";
import { inHand, layDown } from "../tools/tool";
import { usePreferences } from "./preferences";
import { STAGES } from "./stages";
import { changeView, useView, type Bench } from "./view";

/** Something that a key does. */
export interface Shortcut {
  /** By which other keys for it are kept. */
  id: string;
  /** The usual keys, such as `mod+z`; any one of them. */
  keys: string[];
  meaning: string;
  run: () => void;
  /** When the key is let go again, for what lasts as long as it is held. */
  end?: () => void;
  /** Also where one types. */
  everywhere?: boolean;
  /** Only then: else the keys are another one's. */
  when?: () => boolean;
}

function toggleBench(bench: Bench) {
  changeView({ bench: useView.getState().bench === bench ? null : bench });
}

const flip = (key: "alone" | "greyForm" | "contours" | "flowLines" | "maskAlone") =>
  changeView({ [key]: !useView.getState()[key] });

const foldAway = (part: "column" | "side" | "section") => {
  const { folded } = useView.getState();
  changeView({ folded: { ...folded, [part]: !folded[part] } });
};

/** With a brush in hand. */
const withBrush = () => inHand("brush") !== null;

function resize(by: number) {
  const tool = inHand("brush");
  if (!tool) return;
  tool.change({ size_m: Number((by * tool.brush.size_m).toPrecision(3)) });
}

/** Keys of brushes, on masks and on the land alike. */
const BRUSH: Shortcut[] = [
  {
    id: "brush-smaller",
    keys: [","],
    meaning: "With a brush: smaller",
    when: withBrush,
    run: () => resize(1 / 1.2),
  },
  {
    id: "brush-larger",
    keys: ["."],
    meaning: "With a brush: larger",
    when: withBrush,
    run: () => resize(1.2),
  },
];

/** The keys that write digits have the strength, while a brush is in hand. */
export const STRENGTHS: Shortcut[] = [1, 2, 3, 4, 5, 6, 7, 8, 9, 0].map((digit) => ({
  id: `brush-strength-${digit}`,
  keys: [String(digit)],
  meaning: `With a brush: strength ${digit === 0 ? 100 : 10 * digit} %`,
  when: withBrush,
  run: () => inHand("brush")?.change({ strength: digit === 0 ? 1 : digit / 10 }),
}));

/** All that keys do in the studio. */
export const SHORTCUTS: Shortcut[] = [
  ...BRUSH,
  { id: "undo", keys: ["mod+z"], meaning: "Undo", run: () => void undo() },
  { id: "redo", keys: ["mod+shift+z", "mod+y"], meaning: "Redo", run: () => void redo() },
  {
    id: "before",
    keys: ["b"],
    meaning: "Held: the land before the last edit",
    run: () => changeView({ showBefore: true }),
    end: () => changeView({ showBefore: false }),
  },
  {
    id: "projection",
    keys: ["v"],
    meaning: "Change between relief and plan",
    run: () => {
      const { projection } = useView.getState();
      changeView({ projection: projection === "relief" ? "plan" : "relief" });
    },
  },
  {
    id: "frame-land",
    keys: ["home"],
    meaning: "The whole land in the picture",
    run: () => changeView({ framing: "land", standing: false }),
  },
  {
    id: "frame-place",
    keys: ["p"],
    meaning: "The place under the pointer from near by",
    run: () => changeView({ framing: "place", standing: false }),
  },
  {
    id: "alone",
    keys: ["l"],
    meaning: "The land alone, over the whole window",
    run: () => flip("alone"),
  },
  {
    id: "form",
    keys: ["f"],
    meaning: "Form only, without the ground’s colours",
    run: () => flip("greyForm"),
  },
  { id: "contours", keys: ["c"], meaning: "Contour lines", run: () => flip("contours") },
  {
    id: "flow",
    keys: ["w"],
    meaning: "Flow lines: where water runs",
    run: () => flip("flowLines"),
  },
  {
    id: "mask-alone",
    keys: ["g"],
    meaning: "A mask that is shown: in grey, instead of hatched",
    run: () => flip("maskAlone"),
  },
  {
    id: "add-step",
    keys: ["n"],
    meaning: "Add a step",
    run: () => document.querySelector<HTMLElement>("[data-testid=add-step]")?.click(),
  },
  { id: "survey", keys: ["s"], meaning: "Survey", run: () => toggleBench("survey") },
  { id: "moments", keys: ["m"], meaning: "Moments", run: () => toggleBench("moments") },
  {
    id: "land",
    keys: ["d"],
    meaning: "To the land, to go on there with keys",
    run: () => document.querySelector<HTMLElement>("[data-land-keys]")?.focus(),
  },
  {
    id: "fold-column",
    keys: ["["],
    meaning: "Column away and back",
    run: () => foldAway("column"),
  },
  {
    id: "fold-side",
    keys: ["]"],
    meaning: "Legend and bench away and back",
    run: () => foldAway("side"),
  },
  {
    id: "fold-section",
    keys: ["-"],
    meaning: "Section away and back",
    run: () => foldAway("section"),
  },
  ...STAGES.map(({ stage, name }, i) => ({
    id: `stage-${stage}`,
    keys: [String(i + 1)],
    meaning: `Stage ${name}`,
    run: () => changeView({ stage }),
  })),
  {
    id: "escape",
    keys: ["escape"],
    meaning: "Lay down the tool in hand; leave a comparison, a mask, one step, the land alone",
    everywhere: true,
    // A tool in hand first; what is shown beside the land with the next one.
    run: () => {
      if (layDown()) return;
      // In a field it takes back what was typed, and nothing else.
      if (document.activeElement instanceof HTMLInputElement) return;
      changeView({ watched: null, against: null, at: null, help: false, alone: false, solo: null });
    },
  },
  { id: "help", keys: ["?"], meaning: "Keys and help", run: () => changeView({ help: true }) },
];

/** What holds for parts of the page alone. */
export const LOCAL_KEYS: [string, string][] = [
  ["Arrows on the land", "Move the cursor; with Shift farther. Enter: click. Space: press, let go"],
  ["Alt + arrows on the land", "Fly around it; + and − nearer and farther"],
  ["Arrows, standing on the land", "Walk 6 m or turn; with Shift walk 60 m"],
  ["1 … 9, 0 with a brush", "Strength 10 % … 90 %, 100 %"],
  ["Shift with a brush", "Straight on from where the stroke began"],
  ["Space on a grip, then Up, Down", "Move a step or a ground; Space lays it down, Esc leaves it"],
  ["Up, Down in a field", "A little more or less; with Shift in larger steps"],
];

/** The keys of a shortcut: the artist's own, or the usual ones. */
export function keysOf({ id, keys }: Shortcut): string[] {
  const own = usePreferences.getState().keys[id];
  return own === undefined ? keys : [own];
}
