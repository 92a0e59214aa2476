import { useForm } from 'react-hook-form';
import { useNavigate } from 'react-router';
import { errorText, useOpenCaseMutation } from '../../app/api';
import { Button } from '../../ui/button';
import { ErrorNotice } from '../../ui/notice';
import { Sheet } from '../../ui/sheet';

interface Fields {
  model: string;
  year: string;
  engine: string;
  plate: string;
  complaint: string;
}

export function OpenCase({ open, onClose }: { open: boolean; onClose: () => void }) {
  const { register, handleSubmit } = useForm<Fields>();
  const [openCase, { error, isLoading }] = useOpenCaseMutation();
  const navigate = useNavigate();
  const submit = handleSubmit(async ({ year, ...fields }) => {
    const result = await openCase({ ...fields, ...(year && { year: Number(year) }) });
    if (!('error' in result)) await navigate(`/cases/${result.data.id}`);
  });
  return (
    <Sheet
      title="Open a case"
      hint="Just enough to start measuring. More can be added later."
      open={open}
      onClose={onClose}
    >
      <form onSubmit={(event) => void submit(event)} className="grid gap-4 sm:grid-cols-6">
        <Field label="Vehicle" className="sm:col-span-4">
          <input className="input" autoFocus required maxLength={120} {...register('model')} />
        </Field>
        <Field label="Year" className="sm:col-span-2">
          <input className="input" type="number" inputMode="numeric" min={1950} max={2100} {...register('year')} />
        </Field>
        <Field label="Engine" className="sm:col-span-4">
          <input className="input" maxLength={60} {...register('engine')} />
        </Field>
        <Field label="Plate" className="sm:col-span-2">
          <input className="input" maxLength={20} {...register('plate')} />
        </Field>
        <Field label="Complaint, in the customer’s words" className="sm:col-span-6">
          <textarea className="input py-2" rows={3} required minLength={3} maxLength={500} {...register('complaint')} />
        </Field>
        <div className="space-y-3 sm:col-span-6">
          <ErrorNotice text={errorText(error)} />
          <Button type="submit" look="rust" className="w-full text-lg" disabled={isLoading}>
            Open the case
          </Button>
        </div>
      </form>
    </Sheet>
  );
}

function Field({ label, className, children }: { label: string; className: string; children: React.ReactNode }) {
  return (
    <label className={`block ${className}`}>
      <span className="label">{label}</span>
      <span className="mt-1 block">{children}</span>
    </label>
  );
}
