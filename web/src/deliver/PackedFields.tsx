import { Plus, Trash2 } from "lucide-react";
import type { Packed } from "../api/types";
import { useRecipe } from "../live/recipe";
import { Select } from "./Select";
import type { Deliverable } from "./useLayers";

const CHANNELS = ["red", "green", "blue", "alpha"];
const NOTHING = "";
const BEGINS: (string | null)[] = ["occlusion", "roughness", null];

interface Props {
  packed: Packed[];
  known: Deliverable[];
  onChange: (packed: Packed[]) => void;
}

/** Pictures that hold a map in each channel. */
export function PackedFields({ packed, known, onChange }: Props) {
  const covers = (useRecipe()?.covers ?? []).filter((cover) => cover.on ?? true);
  const options: [string, string][] = [
    [NOTHING, "nothing"],
    ...known
      .filter(({ oneNumber }) => oneNumber)
      .map(({ name, title }): [string, string] => [name, title]),
    ...covers.map(({ name }): [string, string] => [`cover:${name}`, `Weight of ‘${name}’`]),
  ];
  const replace = (at: number, by: Packed) =>
    onChange(packed.map((one, place) => (place === at ? by : one)));
  const add = () => {
    const names = packed.map(({ name }) => name);
    let name = "surface";
    for (let count = 2; names.includes(name); count += 1) name = `surface-${count}`;
    onChange([...packed, { name, channels: BEGINS }]);
  };
  return (
    <fieldset className="grid gap-2">
      <legend className="mb-1 text-sm font-medium">Maps packed into one picture</legend>
      {packed.map(({ name, channels }, at) => (
        // Names change while they are typed; places do not.
        <div key={at} className="flex flex-wrap items-center gap-2" data-testid={`packed-${at}`}>
          <input
            className="input input-sm w-32"
            aria-label="Name of the file"
            data-testid={`packed-${at}-name`}
            pattern="[A-Za-z0-9_\-]{1,60}"
            value={name}
            onChange={({ target }) => replace(at, { name: target.value, channels })}
          />
          {CHANNELS.map((channel, place) => (
            <Select
              key={channel}
              label={channel}
              test={`packed-${at}-${channel}`}
              value={channels[place] ?? NOTHING}
              options={options}
              onChange={(chosen) => {
                const next = CHANNELS.map((_, i) =>
                  i === place ? chosen || null : (channels[i] ?? null),
                );
                // Alpha is there when it holds something.
                replace(at, { name, channels: next[3] === null ? next.slice(0, 3) : next });
              }}
            />
          ))}
          <button
            type="button"
            className="btn btn-ghost btn-xs"
            aria-label={`Leave ‘${name}’ out`}
            onClick={() => onChange(packed.filter((_, place) => place !== at))}
          >
            <Trash2 size={14} />
          </button>
        </div>
      ))}
      <button
        type="button"
        className="btn btn-xs justify-self-start"
        data-testid="packed-add"
        onClick={add}
      >
        <Plus size={13} /> Pack maps together
      </button>
    </fieldset>
  );
}
