import { VERDICTS, type Diagnosis, type Verdict, VERDICT_NAMES } from '@jarro/core';
import { Check, Square } from 'lucide-react';

/** What stands between the evidence and condemning the pump, and between it and whatever else is most likely. */
export function GateCard({
  diagnosis: { families, gate },
  stationName,
}: {
  diagnosis: Diagnosis;
  /** Of a station of the path, by its id. */
  stationName: (id: string) => string | undefined;
}) {
  const [first] = families;
  const likely = (Object.keys(VERDICTS) as Verdict[]).find((verdict) =>
    (VERDICTS[verdict] as readonly string[]).includes(first.family),
  );
  const pump = gate['replace-pump'];
  const part = likely && gate[likely].station;
  const named = part === undefined ? undefined : stationName(part);
  return (
    <>
      {likely && likely !== 'replace-pump' && (
        <Gate
          title={`${VERDICT_NAMES[likely]}${named ? ` (${named})` : ''}: ${gate[likely].allowed ? 'allowed' : 'not yet'}`}
          allowed={gate[likely].allowed}
          missing={gate[likely].missing}
          proven={[]}
        />
      )}
      <Gate
        title={pump.allowed ? 'Gate: the pump may be condemned' : 'Gate: pump may not be condemned'}
        allowed={pump.allowed}
        missing={pump.missing}
        proven={pump.proven}
      />
    </>
  );
}

function Gate({
  title,
  allowed,
  missing,
  proven,
}: {
  title: string;
  allowed: boolean;
  missing: readonly string[];
  proven: readonly string[];
}) {
  return (
    <div className={`rounded-2xl border border-dashed p-3 ${allowed ? 'border-mineral' : 'border-ochre'}`}>
      <h3 className="mb-1">{title}</h3>
      <ul className="space-y-1.5">
        {missing.map((text) => (
          <li key={text} className="flex gap-2 text-[0.93rem]">
            <Square aria-label="missing" className="mt-0.5 size-4 shrink-0 text-ochre" /> <span>{text}</span>
          </li>
        ))}
        {proven.map((text) => (
          <li key={text} className="flex gap-2 text-[0.93rem]">
            <Check aria-label="proven" className="mt-0.5 size-4 shrink-0 text-mineral" /> <span>{text}</span>
          </li>
        ))}
      </ul>
    </div>
  );
}
