import type { CaseDetail } from '../../app/types';
import { useTheBench } from '../case/bench';
import { StageFrame } from '../case/stage-head';
import { Notes } from '../notes/notes-stage';
import { Photos } from '../notes/photos';
import { useMay } from '../session/use-may';
import { FellFirst } from './fell-first';
import { DutySweep } from './duty-sweep';

/** What is asked of the pump and what it does: the order of a stall on every path, the duty sweep on a driven one. */
export function ControlStage({ item }: { item: CaseDetail }) {
  const { profile } = useTheBench();
  const may = useMay();
  const editable = item.stage === 'open' && may('measure');
  return (
    <StageFrame item={item} stage="control" asksFault>
      <FellFirst item={item} editable={editable} />
      {profile.stations.some(({ kind }) => kind === 'module') && <DutySweep item={item} editable={editable} />}
      <Notes item={item} stage="control" />
      <Photos item={item} stage="control" />
    </StageFrame>
  );
}
