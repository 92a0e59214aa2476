import { errorText, useBackupsQuery, useBeginBackupMutation, useStopBackupMutation } from '../../app/api';
import { progressText } from '../../app/send-file';
import { when } from '../../app/words';
import { Button } from '../../ui/button';
import { ErrorNotice } from '../../ui/notice';

/** How often it is asked how far one under way is. */
const ASK_EVERY_MS = 2000;
/** A day's and a half: the daily one didn't come. */
const LATE_MS = 36 * 3_600_000;

const size = new Intl.NumberFormat(undefined, { style: 'unit', unit: 'megabyte', maximumFractionDigits: 1 });

/** What the server keeps by itself of the whole shop, and one more when it is asked for. */
export function Backups() {
  const { data: state, error } = useBackupsQuery(undefined, { pollingInterval: ASK_EVERY_MS });
  const [begin, { error: refused }] = useBeginBackupMutation();
  const [stop] = useStopBackupMutation();
  const last = state?.files.at(0);
  return (
    <section aria-label="Backups" className="card space-y-3 p-5">
      <h2 className="text-xl">Backups</h2>
      <ErrorNotice text={errorText(error ?? refused)} />
      {state?.folder === null && (
        <p>
          The server keeps none by itself. Whoever runs it names a folder for them, best on another disk:{' '}
          <code>JARRO_BACKUP_FOLDER</code>. Until then <code>npm run backup -- FILE</code> writes one.
        </p>
      )}
      {state && state.folder !== null && (
        <>
          <p className={`text-2xl font-semibold ${last && isLate(last.at) ? 'text-rust' : ''}`}>
            {last ? when(last.at) : 'None yet'}
          </p>
          <p className="label">
            {last && `${size.format(last.sizeBytes / 1e6)}. `}
            One a day in {state.folder}; {state.files.length} of at most {state.kept} are there. The seal key is not in
            them: keep it apart.
          </p>
          {!state.running && <ErrorNotice text={state.problem ?? undefined} />}
          {state.running ? (
            <div className="flex items-center gap-3">
              <p aria-live="polite">{progressText({ stage: 'storing', share: state.running.share })}</p>
              <Button onClick={() => void stop()}>Stop</Button>
            </div>
          ) : (
            <Button look="ink" onClick={() => void begin()}>
              Back up now
            </Button>
          )}
        </>
      )}
    </section>
  );
}

const isLate = (at: string) => Date.now() - Date.parse(at) > LATE_MS;
