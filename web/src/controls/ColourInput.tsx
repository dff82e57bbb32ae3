interface Props {
  label: string;
  colour: string;
  onCommit: (colour: string) => void;
}

/** A colour, chosen with what the browser offers and kept once it is closed. */
export function ColourInput({ label, colour, onCommit }: Props) {
  return (
    <input
      type="color"
      className="border-base-300 h-6 w-8 cursor-pointer rounded border p-0"
      aria-label={label}
      key={colour}
      defaultValue={colour}
      onBlur={(event) => {
        if (event.target.value !== colour) onCommit(event.target.value);
      }}
    />
  );
}
