import { useRef } from "react";
import { toast } from "sonner";
import { useSession } from "../live/session";
import { HEIGHT_FILES, importInto } from "../shelf/importFile";
import { useView } from "../studio/view";
import { ChoiceField } from "./ChoiceField";
import type { Changes } from "./Parameters";

interface Props {
  name: string;
  label: string;
  hint: string | undefined;
  testId: string;
  choices: { value: string; hint?: string }[];
  valueOf: (name: string) => unknown;
  onCommit: (changes: Changes) => void;
}

/** A choice in which an image or a strand must be named along with it. */
export function SourceField({ name, valueOf, onCommit, ...field }: Props) {
  const picker = useRef<HTMLInputElement>(null);
  const choose = (choice: string) => {
    if (choice === "image" && valueOf("asset") === "") {
      picker.current?.click();
    } else if (choice === "strand" && valueOf("strand") === "") {
      const strand = otherStrand();
      if (strand) onCommit({ [name]: choice, strand });
      else toast("There is no other strand yet; add one with the plus on the left.");
    } else {
      onCommit({ [name]: choice });
    }
  };
  return (
    <>
      <ChoiceField {...field} value={String(valueOf(name))} onCommit={choose} />
      <input
        ref={picker}
        type="file"
        accept={HEIGHT_FILES}
        className="hidden"
        aria-label={`Image for ${field.label}`}
        data-testid={`${field.testId}.file`}
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = "";
          if (!file) return;
          void importInto(file, ({ asset, white }) => onCommit({ [name]: "image", asset, white }));
        }}
      />
    </>
  );
}

/** A strand that the open one could take in. */
function otherStrand(): string | undefined {
  const { draft, head } = useSession.getState();
  const open = useView.getState().strand;
  const strands = (draft ?? head?.recipe)?.strands ?? [];
  return strands.filter((strand) => strand.name !== open).at(-1)?.name;
}
