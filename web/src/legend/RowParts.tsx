import type { Recipe } from "../api/types";
import { ColourInput } from "../controls/ColourInput";
import { commit, commitValue } from "../live/edit";

/** What covers and washes have in common. */
export interface Coloured {
  name: string;
  on: boolean;
  colour: string;
}

interface Props {
  row: Coloured;
  /** An edit of the recipe that changes the row. */
  edit: (change: (target: Coloured) => void) => (draft: Recipe) => void;
}

/** Whether a row of the legend is on. */
export function IsOn({ row: { name, on }, edit }: Props) {
  return (
    <input
      type="checkbox"
      className="checkbox checkbox-xs"
      aria-label={`${name} is on`}
      checked={on}
      onChange={(event) => {
        const value = event.target.checked;
        void commit(
          `${value ? "Switch on" : "Switch off"} ${name}`,
          edit((target) => void (target.on = value)),
        );
      }}
    />
  );
}

/** The colour of a row of the legend. */
export function OwnColour({ row: { name, colour }, edit }: Props) {
  return (
    <ColourInput
      label={`Colour of ${name}`}
      colour={colour}
      onCommit={(chosen) => void commitValue(edit((target) => void (target.colour = chosen)))}
    />
  );
}
