/** The stages of a landscape, in the order in which artists work. */
export const STAGES = [
  { stage: "form", name: "Form", legend: false, delivers: false },
  { stage: "ground", name: "Ground", legend: true, delivers: false },
  { stage: "deliver", name: "Deliver", legend: false, delivers: true },
] as const;

export type StageName = (typeof STAGES)[number]["stage"];

/** What a stage shows beside the column. */
export function stageCalled(name: StageName) {
  return STAGES.find(({ stage }) => stage === name) ?? STAGES[0];
}
