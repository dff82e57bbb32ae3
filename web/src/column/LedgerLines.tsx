import { volume } from "../controls/units";
import { useSession } from "../live/session";

/** Where the ground of an erosion step has gone. */
export function LedgerLines({ step }: { step: string }) {
  const ledger = useSession((state) =>
    state.now?.header.ledgers.find((line) => line.step === step),
  );
  if (!ledger) return null;
  const lines: [string, number][] = [
    ...(ledger.risen_m3 > 0 ? [["Risen", ledger.risen_m3] as [string, number]] : []),
    ["Worn", ledger.worn_m3],
    ...(ledger.added_m3 > 0 ? [["Added", ledger.added_m3] as [string, number]] : []),
    ["Dropped", ledger.dropped_m3],
    ["Carried off the map", ledger.carried_off_m3],
  ];
  return (
    <dl className="grid grid-cols-[1fr_auto] gap-x-2 text-xs" aria-label="Ledger">
      {lines.map(([name, value]) => (
        <div key={name} className="contents">
          <dt className="text-base-content/80">{name}</dt>
          <dd className="text-right">{volume(value)}</dd>
        </div>
      ))}
      <dt className="text-base-content/80">Error</dt>
      <dd className="text-right">{ledger.error.toExponential(1)}</dd>
    </dl>
  );
}
