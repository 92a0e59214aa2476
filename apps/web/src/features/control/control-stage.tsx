import type { CaseDetail } from '@jarro/api-types';
import { Acknowledge } from '../case/acknowledge';
import { useTheBench } from '../case/bench';
import { openCautions } from '../case/cautions';
import { StageFrame } from '../case/stage-head';
import { useMayMeasure } from '../case/use-may-measure';
import { Notes } from '../notes/notes';
import { Photos } from '../notes/photos';
import { FellFirst } from './fell-first';
import { ChainSheet } from './chain-sheet';
import { DutySweep } from './duty-sweep';
import { FromSignals } from './from-signals';

/** What is asked of the pump and what it does: the duty sweep on a driven path, the order of a stall on every one. */
export function ControlStage({ item }: { item: CaseDetail }) {
  const { profile } = useTheBench();
  const hasModule = profile.stations.some(({ kind }) => kind === 'module');
  // Both are watched with meter and gauge on the running circuit.
  const ahead = openCautions(item, 'power-path');
  const editable = useMayMeasure(item);
  return (
    <StageFrame item={item} stage="control" asksFault>
      {editable && ahead.length > 0 ? (
        <Acknowledge caseId={item.id} cautions={ahead} />
      ) : (
        <>
          <FromSignals item={item} editable={editable} />
          {hasModule && <ChainSheet item={item} editable={editable} />}
          {hasModule && <DutySweep item={item} editable={editable} />}
          <FellFirst item={item} editable={editable} />
        </>
      )}
      <Notes item={item} stage="control" />
      <Photos item={item} stage="control" />
    </StageFrame>
  );
}
