import { volume } from "../controls/units";
import { useSession } from "../live/session";

/** An account is said to be in error from this share of what was moved on: below it is rounding. */
const SAID_FROM = 1e-4;

/** Where the ground of an erosion step has gone. */
export function LedgerLines({ step }: { step: string }) {
  const ledger = useSession((state) =>
    state.now?.header.ledgers.find((line) => line.step === step),
  );
  if (!ledger) return null;
  const adjusted = ledger.adjusted.reduce((sum, line) => sum + line.volume_m3, 0);
  return (
    <dl className="grid grid-cols-[1fr_auto] gap-x-2 text-xs" aria-label="Mass balance">
      {ledger.risen_m3 > 0 && <Line name="Uplift" volume_m3={ledger.risen_m3} />}
      {ledger.worn_m3 > 0 && <Line name="Eroded" volume_m3={ledger.worn_m3} />}
      {ledger.added_m3 > 0 && <Line name="Brought in" volume_m3={ledger.added_m3} />}
      <Line name="Deposited" volume_m3={ledger.dropped_m3} />
      <Line name="Carried off the land" volume_m3={ledger.carried_off_m3} />
      {ledger.adjusted.length > 0 && (
        <>
          <Line name="Adjusted" volume_m3={adjusted} />
          {ledger.adjusted.map((line) => (
            <Line key={line.reason} name={line.reason} volume_m3={line.volume_m3} part />
          ))}
        </>
      )}
      <Line name="Change of the land" volume_m3={ledger.gained_m3} />
      {ledger.error > SAID_FROM && (
        <>
          <dt className="text-base-content/80">Mass balance error</dt>
          <dd className="text-right">{(100 * ledger.error).toFixed(2)} %</dd>
        </>
      )}
    </dl>
  );
}

function Line({ name, volume_m3, part }: { name: string; volume_m3: number; part?: boolean }) {
  return (
    <div className="contents">
      <dt className={`text-base-content/80 ${part ? "pl-3" : ""}`}>{name}</dt>
      <dd className="text-right">{volume(volume_m3)}</dd>
    </div>
  );
}
