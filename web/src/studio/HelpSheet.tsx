import { RotateCcw } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { callMe, useMyName } from "../live/people";
import { prefer, usePreferences, type ContrastChoice, type ThemeChoice } from "./preferences";
import { combinationOf, spelled } from "./isKey";
import { keysOf, LOCAL_KEYS, SHORTCUTS, type Shortcut } from "./shortcuts";
import { changeView, useView } from "./view";

/** The four words one needs, what the artist prefers, and keys. */
export function HelpSheet() {
  const open = useView((view) => view.help);
  const dialog = useRef<HTMLDialogElement>(null);
  useEffect(() => {
    if (open) dialog.current?.showModal();
    else dialog.current?.close();
  }, [open]);
  return (
    <dialog
      ref={dialog}
      className="modal"
      aria-label="Help and preferences"
      onClose={() => changeView({ help: false })}
    >
      <div className="modal-box max-w-2xl space-y-3">
        <h2 className="text-lg font-semibold">Help and preferences</h2>
        <p className="text-sm">
          A landscape is a recipe that grows. The <b>column</b> on the left is the recipe, its
          newest step on top; open a band to change it. The land grows anew with every change. The{" "}
          <b>legend</b> in stage Ground says what lies where. The <b>section</b> below is a cut
          through the land. Every edit is kept at once and can be undone, also tomorrow.
        </p>
        {open && <Preferences />}
        {open && <Keys />}
        <form method="dialog" className="modal-action">
          <button className="btn btn-sm">Close</button>
        </form>
      </div>
      <form method="dialog" className="modal-backdrop">
        <button aria-label="Close">close</button>
      </form>
    </dialog>
  );
}

const THEMES: [ThemeChoice, string][] = [
  ["system", "as the system"],
  ["paper", "light"],
  ["slate", "dark"],
];
const CONTRASTS: [ContrastChoice, string][] = [
  ["system", "as the system"],
  ["more", "high"],
];

function Preferences() {
  const { theme, contrast } = usePreferences();
  const name = useMyName((mine) => mine.name);
  return (
    <section className="flex flex-wrap items-end gap-4" aria-label="Preferences">
      <label className="grid gap-0.5 text-xs">
        Your name, for others who work here
        <input
          className="input input-xs w-44"
          data-testid="my-name"
          maxLength={60}
          defaultValue={name}
          onBlur={(event) => callMe(event.target.value.trim())}
        />
      </label>
      <Choice
        label="Theme"
        value={theme}
        choices={THEMES}
        onChange={(theme) => prefer({ theme })}
      />
      <Choice
        label="Contrast"
        value={contrast}
        choices={CONTRASTS}
        onChange={(contrast) => prefer({ contrast })}
      />
    </section>
  );
}

interface ChoiceProps<V extends string> {
  label: string;
  value: V;
  choices: [V, string][];
  onChange: (value: V) => void;
}

function Choice<V extends string>({ label, value, choices, onChange }: ChoiceProps<V>) {
  return (
    <label className="grid gap-0.5 text-xs">
      {label}
      <select
        className="select select-xs w-36"
        data-testid={`prefer-${label.toLowerCase()}`}
        value={value}
        onChange={(event) => onChange(event.target.value as V)}
      >
        {choices.map(([choice, title]) => (
          <option key={choice} value={choice}>
            {title}
          </option>
        ))}
      </select>
    </label>
  );
}

/** What keys do; each can be given another one. */
function Keys() {
  const { keys } = usePreferences();
  return (
    <section aria-label="Keys">
      <div className="flex items-center justify-between">
        <h3 className="text-sm font-semibold">Keys</h3>
        {Object.keys(keys).length > 0 && (
          <button type="button" className="btn btn-xs" onClick={() => prefer({ keys: {} })}>
            <RotateCcw size={12} /> Reset all shortcuts
          </button>
        )}
      </div>
      <table className="table-xs table">
        <tbody>
          {SHORTCUTS.map((shortcut) => (
            <tr key={shortcut.id}>
              <td className="w-52">
                <KeyButton shortcut={shortcut} />
              </td>
              <td>{shortcut.meaning}</td>
            </tr>
          ))}
          {LOCAL_KEYS.map(([keys, meaning]) => (
            <tr key={keys}>
              <td className="font-medium">{keys}</td>
              <td>{meaning}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function KeyButton({ shortcut }: { shortcut: Shortcut }) {
  const { keys } = usePreferences();
  const [asks, setAsks] = useState(false);
  const change = (event: React.KeyboardEvent) => {
    if (!asks) return;
    if (event.key === "Tab") return setAsks(false);
    event.preventDefault();
    event.stopPropagation();
    const combination = combinationOf(event.nativeEvent);
    if (!combination) return;
    setAsks(false);
    if (combination === "escape") return;
    const free = Object.entries(keys).filter(
      ([id, taken]) => taken !== combination && id !== shortcut.id,
    );
    prefer({ keys: { ...Object.fromEntries(free), [shortcut.id]: combination } });
  };
  return (
    <button
      type="button"
      className={`btn btn-xs ${asks ? "btn-primary" : keys[shortcut.id] ? "btn-neutral" : ""}`}
      title="Press to give it another key"
      data-testid={`key-${shortcut.id}`}
      onClick={() => setAsks(!asks)}
      onKeyDown={change}
      onBlur={() => setAsks(false)}
    >
      {asks ? "Press the new key …" : keysOf(shortcut).map(spelled).join(", ")}
    </button>
  );
}
