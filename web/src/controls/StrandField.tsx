import { useRecipe } from "../live/recipe";
import { useView } from "../studio/view";
import { ChoiceField } from "./ChoiceField";

/** Another strand of the recipe. */
export function StrandField({
  name,
  optional,
  onCommit,
}: {
  name: string;
  optional: boolean;
  onCommit: (name: string) => void;
}) {
  const recipe = useRecipe();
  const open = useView((view) => view.strand);
  const others = (recipe?.strands ?? []).filter((strand) => strand.name !== open);
  if (others.length === 0) {
    if (optional) return null;
    return (
      <p className="text-base-content/80 text-xs">
        There is no other strand yet; add one with the plus on the left.
      </p>
    );
  }
  return (
    <ChoiceField
      label="Strand"
      testId="choose-strand"
      value={name}
      choices={[
        ...(optional ? [{ value: "", hint: "None", plain: true }] : []),
        ...others.map((strand) => ({ value: strand.name, plain: true })),
      ]}
      onCommit={onCommit}
    />
  );
}
