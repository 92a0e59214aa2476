import { phasesOf } from '@jarro/core';
import { useTheBench } from '../case/bench';
import { verdictsOf } from '../case/evidence';
import { Reopen } from '../recheck/reopen';
import { useMay } from '../session/use-may';
import { DecideForm } from './decide-form';
import { VerdictSheet } from './verdict-sheet';

/** The verdict: given here, then shown with all that it rested on; earlier ones below it. */
export function VerdictPanel() {
  const { item, weighed } = useTheBench();
  const may = useMay();
  const standing = phasesOf(item.evidence, item.stage).verdict;
  const verdicts = verdictsOf(item).reverse();
  return (
    <div className="space-y-5">
      <h2 className="text-xl">Verdict</h2>
      {item.stage === 'open' &&
        (!may('decide') ? (
          <p className="text-soft">Technicians and leads give the verdict.</p>
        ) : weighed && 'diagnosis' in weighed ? (
          <DecideForm diagnosis={weighed.diagnosis} />
        ) : (
          <p className="text-soft">Weighing the evidence …</p>
        ))}
      {verdicts.map(({ link, value }) => (
        <VerdictSheet key={link.id} item={item} link={link} verdict={value} whole={link.id === standing?.id} />
      ))}
      {item.stage !== 'open' && may('decide') && <Reopen caseId={item.id} />}
    </div>
  );
}
