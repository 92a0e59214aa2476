import { FIRST_CHECKS, NUMBER_MEASURES, newestEntry } from '@jarro/core';
import { useState } from 'react';
import type { CaseDetail } from '@jarro/api-types';
import { entriesOf } from '../case/evidence';
import { MeasureSheet, type WhatToMeasure } from '../case/measure-sheet';
import { StageFrame } from '../case/stage-head';
import { useMayMeasure } from '../case/use-may-measure';
import { ReadingTile } from '../pressure/gauge-tile';
import { CheckRow } from './check-row';

const NUMBERS = NUMBER_MEASURES.filter(({ stage }) => stage === 'first-checks');

/** Questions of seconds: one press each, and what the answer rules in or out stands below it. */
export function ChecksStage({ item }: { item: CaseDetail }) {
  const entries = entriesOf(item);
  const [measuring, setMeasuring] = useState<WhatToMeasure>();
  const editable = useMayMeasure(item);
  return (
    <StageFrame item={item} stage="first-checks" asksFault>
      <div className="grid grid-cols-2 gap-2 md:grid-cols-5">
        {NUMBERS.map((measure) => (
          <ReadingTile
            key={measure.at}
            kind={measure.kind}
            at={measure.at}
            entry={newestEntry(entries, measure.kind, measure.at)}
            onMeasure={editable ? () => setMeasuring(measure) : undefined}
          />
        ))}
      </div>
      <div>
        {FIRST_CHECKS.map((check) => (
          <CheckRow
            key={check.at}
            caseId={item.id}
            check={check}
            entry={newestEntry(entries, 'check', check.at)}
            editable={editable}
          />
        ))}
      </div>
      {measuring && (
        <MeasureSheet
          caseId={item.id}
          what={{ kind: measuring.kind, at: measuring.at }}
          onClose={() => setMeasuring(undefined)}
        />
      )}
    </StageFrame>
  );
}
