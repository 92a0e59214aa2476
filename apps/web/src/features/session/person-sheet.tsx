import type { Colleague } from '@jarro/api-types';
import { Delete } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { Link } from 'react-router';
import { errorText, useColleaguesQuery, useHandOverMutation } from '../../app/api';
import { Button, buttonLook } from '../../ui/button';
import { ErrorNotice } from '../../ui/notice';
import { Sheet } from '../../ui/sheet';

const CODE_LENGTH = 4;

/** Who works at this device now: a tap and four digits, so that "taken by" is true on a tablet that several share. */
export function PersonSheet({ onClose }: { onClose: () => void }) {
  const { data: colleagues = [], isSuccess } = useColleaguesQuery();
  const [next, setNext] = useState<Colleague>();
  return (
    <Sheet title={next ? `${next.name}: your code` : 'Who is at the bench?'} open onClose={onClose}>
      {next ? (
        <CodePad colleague={next} onDone={onClose} />
      ) : (
        <div className="space-y-4">
          <div className="grid gap-3 sm:grid-cols-2">
            {colleagues.map((colleague) => (
              <Button
                key={colleague.id}
                look="ink"
                className="min-h-20 flex-col text-xl"
                onClick={() => setNext(colleague)}
              >
                {colleague.name} <span className="text-[0.93rem] font-normal">{colleague.role}</span>
              </Button>
            ))}
          </div>
          {isSuccess && colleagues.length === 0 && (
            <p className="text-soft">
              No colleague has a code yet. Everyone sets their own, under their name; four digits then change the person
              here.
            </p>
          )}
          <Link to="/account" onClick={onClose} className={buttonLook('plain', 'w-full')}>
            Your own sign-in, code and units
          </Link>
        </div>
      )}
    </Sheet>
  );
}

/** Large keys, and no Enter: the fourth digit sends it. */
function CodePad({ colleague, onDone }: { colleague: Colleague; onDone: () => void }) {
  const [digits, setDigits] = useState('');
  const [handOver, { error, isLoading }] = useHandOverMutation();
  const pad = useRef<HTMLDivElement>(null);
  useEffect(() => pad.current?.focus(), []);
  const press = async (digit: string) => {
    if (isLoading) return;
    const pin = digits + digit;
    setDigits(pin);
    if (pin.length < CODE_LENGTH) return;
    const result = await handOver({ to: colleague.id, pin });
    if ('error' in result) setDigits('');
    else onDone();
  };
  return (
    <div
      className="mx-auto max-w-xs space-y-4 outline-none"
      role="group"
      aria-label="Code"
      tabIndex={0}
      ref={pad}
      onKeyDown={({ key }) => {
        if (/^\d$/.test(key)) void press(key);
        else if (key === 'Backspace') setDigits(digits.slice(0, -1));
      }}
    >
      <p role="status" aria-label={`${digits.length} of ${CODE_LENGTH} digits`} className="text-center text-5xl">
        {'●'.repeat(digits.length)}
        <span className="text-line">{'○'.repeat(CODE_LENGTH - digits.length)}</span>
      </p>
      <ErrorNotice text={errorText(error)} />
      <div className="grid grid-cols-3 gap-3">
        {['1', '2', '3', '4', '5', '6', '7', '8', '9'].map((digit) => (
          <Button key={digit} className="min-h-16 text-2xl" onClick={() => void press(digit)}>
            {digit}
          </Button>
        ))}
        <span />
        <Button className="min-h-16 text-2xl" onClick={() => void press('0')}>
          0
        </Button>
        <Button className="min-h-16" aria-label="Take one back" onClick={() => setDigits(digits.slice(0, -1))}>
          <Delete aria-hidden />
        </Button>
      </div>
    </div>
  );
}
