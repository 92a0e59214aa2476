import { RECORD_MARK_NAMES, type RecordMarkKind } from '@jarro/core';
import { useState } from 'react';
import { errorText, useAddMarkMutation } from '../../app/api';
import { Button } from '../../ui/button';
import { Choice, optionsOf } from '../../ui/choice';
import { Field } from '../../ui/field';
import { ErrorNotice } from '../../ui/notice';
import { Sheet, SheetKeep } from '../../ui/sheet';

const OPTIONS = optionsOf<RecordMarkKind>({ ...RECORD_MARK_NAMES, other: 'something else' });
const LONGEST = 120;

/** Says what happened at a moment of a record. */
export function MarkSheet({
  caseId,
  captureId,
  atS,
  onClose,
}: {
  readonly caseId: string;
  readonly captureId: string;
  readonly atS: number;
  readonly onClose: () => void;
}) {
  const [mark, setMark] = useState<RecordMarkKind>();
  const [what, setWhat] = useState('');
  const [addMark, { error, isLoading }] = useAddMarkMutation();
  const words = what.trim();
  const keep = async () => {
    if (!mark) return;
    const result = await addMark({ caseId, captureId, mark, atS, ...(words && { what: words }) });
    if (!('error' in result)) onClose();
  };
  return (
    <Sheet title={`Mark ${atS.toFixed(3)} s`} hint="What happened at this moment?" open onClose={onClose}>
      <form
        className="space-y-4"
        onSubmit={(event) => {
          event.preventDefault();
          void keep();
        }}
      >
        <Choice label="What happened" hideLabel options={OPTIONS} value={mark} onChange={setMark} />
        <Field
          label={mark === 'disturbed' ? 'What was moved, heated or tapped' : 'In words'}
          value={what}
          maxLength={LONGEST}
          onChange={(event) => setWhat(event.target.value)}
        />
        <ErrorNotice text={errorText(error)} />
        <SheetKeep>
          <Button
            type="submit"
            look="rust"
            className="w-full"
            disabled={isLoading || mark === undefined || (mark === 'other' && words === '')}
          >
            Keep this mark
          </Button>
        </SheetKeep>
      </form>
    </Sheet>
  );
}
