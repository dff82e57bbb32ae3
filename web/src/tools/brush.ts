import { simplified } from "./simplified";
import { underWay, type Brush, type Handler, type Press, type ToolNamed, type Way } from "./tool";

/** Points nearer to one another than this share of the brush tell nothing new. */
const CLOSE = 0.02;
/** A stroke is kept so true, as a share of the brush: what is finer it cannot show. */
const TRUE = 0.01;
const SHOW_EVERY_MS = 20;

let way: Way = [];
let shown = 0;
/** What was drawn since it was shown last comes when there is time. */
let later: ReturnType<typeof setTimeout> | undefined;

/** A place as fine as a hundredth of the brush: whole metres would be too coarse for a
 * small land. */
function placed({ place, pressure }: Press, { size_m }: Brush): Way[number] {
  const grain = 10 ** Math.floor(Math.log10(size_m / 100));
  const digits = Math.max(0, -Math.log10(grain));
  const rounded = (metres: number) => Number((Math.round(metres / grain) * grain).toFixed(digits));
  return [rounded(place.x), rounded(place.y), Math.round(pressure * 200) / 200];
}

function over() {
  clearTimeout(later);
  later = undefined;
  underWay(null);
  way = [];
}

function show({ stroke }: ToolNamed<"brush">) {
  clearTimeout(later);
  later = undefined;
  shown = performance.now();
  stroke([...way], false);
}

/** Makes strokes; what is drawn so far shows on the land. */
export const brush: Handler<ToolNamed<"brush">> = {
  hint: "Drag on the land: draw a stroke. Shift: straight on",
  takesDrags: true,
  begin: (tool, press) => {
    way = [placed(press, tool.brush)];
    underWay(() => {
      over();
      tool.giveUp();
    });
    show(tool);
  },
  drag: (tool, press) => {
    const [first, last] = [way[0], way.at(-1)];
    // It was given up meanwhile.
    if (!first || !last) return;
    const point = placed(press, tool.brush);
    if (press.straight) way = [first, point];
    else {
      const apart = Math.hypot(point[0] - last[0], point[1] - last[1]);
      if (apart < CLOSE * tool.brush.size_m) return;
      way.push(point);
    }
    const wait = shown + SHOW_EVERY_MS - performance.now();
    if (wait <= 0) show(tool);
    else later ??= setTimeout(() => show(tool), wait);
  },
  end: (tool) => {
    const drawn = way;
    over();
    if (drawn.length > 0) tool.stroke(simplified(drawn, tool.brush.size_m, TRUE), true);
  },
};
