import type { CaptureValue, CaseDetail } from '@jarro/api-types';
import { errorText, useMeasureAgainMutation } from '../../app/api';
import { Button } from '../../ui/button';

/** Measures the kept file anew with the Jarro of today; what was measured before stays on record. */
export function MeasureAgain({ item, captureId }: { item: CaseDetail; captureId: string }) {
  const [measureAgain, { isLoading, isSuccess, error }] = useMeasureAgainMutation();
  const link = item.evidence.find(({ id }) => id === captureId);
  if ((link?.value as CaptureValue | undefined)?.contentSha256 === undefined) return null;
  return (
    <>
      <Button look="bare" disabled={isLoading} onClick={() => void measureAgain({ caseId: item.id, captureId })}>
        {isLoading ? 'Measuring …' : 'Measure again'}
      </Button>
      <span role="status" className="label order-last w-full text-right empty:hidden">
        {isSuccess ? 'Measured again; the earlier result stays on record.' : errorText(error)}
      </span>
    </>
  );
}
