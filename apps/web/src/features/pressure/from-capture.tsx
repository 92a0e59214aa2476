import { captureEntries, type Entry, type HoldBlock, pressureText } from '@jarro/core';
import { useState } from 'react';
import type { CaseDetail } from '@jarro/api-types';
import { usePressureUnit } from '../../app/units';
import { Choice } from '../../ui/choice';
import { momentOf, standingCaptures } from '../case/evidence';
import { TakeOver } from '../case/take-over';
import { BLOCKS, timeText } from './hold-words';

/** What the newest recorded rail pressure measured, to be taken into the sheet with one press. */
export function FromCapture({ item, editable }: { item: CaseDetail; editable: boolean }) {
  const unit = usePressureUnit();
  const [blocked, setBlocked] = useState<HoldBlock>('none');
  const capture = standingCaptures(item)
    .filter(({ analysis }) => analysis?.pressure)
    .at(-1);
  const pressure = capture?.analysis?.pressure;
  if (!capture || !pressure) return null;
  const { keyState } = momentOf(capture);
  const entries = captureEntries(pressure, keyState, blocked);
  const fills = (kind: Entry['kind']) => entries.some((entry) => entry.kind === kind);
  const text = (pascal: number) => `${pressureText(pascal, unit)} ${unit}`;
  const { primePa, levelPa, lowestPa, riseTimeS, hold } = pressure;
  const said = [
    text(keyState === 'prime' ? (primePa ?? levelPa) : levelPa),
    keyState === 'loaded' && `lowest ${text(lowestPa)}`,
    fills('timing') && riseTimeS !== undefined && `up in ${riseTimeS.toFixed(1)} s`,
    fills('hold') && hold && `then ${text(hold.ratePaPerMin)} a minute lost`,
    fills('hold') && hold?.halfTimeS !== undefined && `half in ${timeText(hold.halfTimeS)}`,
  ].filter(Boolean);
  return (
    <TakeOver item={item} capture={capture} entries={entries} said={said.join(', ')} editable={editable}>
      {(missing) =>
        missing.some(({ kind }) => kind === 'hold') && (
          <Choice label="While it fell" options={BLOCKS} value={blocked} onChange={setBlocked} />
        )
      }
    </TakeOver>
  );
}
