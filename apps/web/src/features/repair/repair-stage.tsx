import { repairState, type RepairState } from '@jarro/core';
import type { CaseDetail } from '@jarro/api-types';
import { Link } from 'react-router';
import { StageFrame } from '../case/stage-head';
import { Notes } from '../notes/notes';
import { Photos } from '../notes/photos';
import { useMay } from '../session/use-may';
import { FinishRepair } from './finish-repair';
import { FittedParts } from './fitted-parts';
import { LooseEnds } from './loose-ends';
import { StepRow } from './step-row';

/** The repair that the verdict asks for, particular by particular; once it is finished the recheck begins. */
export function RepairStage({ item }: { item: CaseDetail }) {
  const state = repairState(item.evidence, item.stage);
  return (
    <StageFrame item={item} stage="repair" harmless={!state?.plan.opensFuel}>
      {state ? (
        <Plan item={item} state={state} />
      ) : (
        <p className="text-lg">Give the verdict first: the plan follows from it.</p>
      )}
      <LooseEnds item={item} />
      <Notes item={item} stage="repair" />
      <Photos item={item} stage="repair" />
    </StageFrame>
  );
}

function Plan({ item, state }: { item: CaseDetail; state: RepairState }) {
  const { plan, said, open, done } = state;
  const may = useMay();
  const editable = item.stage === 'decided' && !done && may('measure');
  return (
    <>
      <section aria-label="The plan" className="space-y-3">
        <div className="flex flex-wrap items-baseline gap-x-4">
          <h3 className="text-xl">{plan.title}</h3>
          <span className="label">about {plan.minutes} minutes; the service information comes first</span>
          <span className={`ml-auto text-2xl font-bold ${open.length === 0 ? 'text-mineral' : ''}`} role="status">
            {plan.steps.length - open.length} of {plan.steps.length}
          </span>
        </div>
        <div className="grid gap-x-6 gap-y-1 md:grid-cols-2">
          <Lay title="Lay out" items={plan.parts} />
          <Lay title="Tools" items={plan.tools} />
        </div>
        <ol>
          {plan.steps.map((step) => (
            <StepRow key={step.id} caseId={item.id} step={step} said={said.get(step.id)} editable={editable} />
          ))}
        </ol>
      </section>
      <FittedParts item={item} editable={editable} />
      {done ? (
        <div className="rounded-2xl border border-dashed border-mineral p-4">
          <h3 className="text-mineral">The repair is finished</h3>
          <p className="text-lg">{done.what}</p>
          <Link
            className="inline-flex min-h-11 items-center font-semibold text-steel underline"
            to={`/cases/${item.id}/recheck`}
          >
            Go on to the recheck
          </Link>
        </div>
      ) : (
        editable && <FinishRepair item={item} state={state} />
      )}
    </>
  );
}

function Lay({ title, items }: { title: string; items: readonly string[] }) {
  if (items.length === 0) return null;
  return (
    <p>
      <span className="label">{title}:</span> {items.join(' · ')}
    </p>
  );
}
