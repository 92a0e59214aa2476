import {
  type CaseLadder,
  KEY_STATE_NAMES,
  type KeyState,
  PATH_TITLES,
  type Rung,
  type SystemProfile,
  grouped,
} from '@jarro/core';
import { ChevronUp, Route } from 'lucide-react';
import { useState } from 'react';
import { Link } from 'react-router';
import { Choice } from '../../ui/choice';
import { useTheBench, type Bench } from '../case/bench';
import { standingCaptures } from '../case/evidence';
import { FoldedPath } from './folded-path';
import { GroundStairs, SupplyStairs } from './staircase';
import { standingOf, type Standing } from './standings';
import { SUSPECT_MARK, useSuspectInView } from './use-suspect-in-view';

/** The signature: the vehicle's own supply path as a staircase of volts, station by station, and the way to enter a reading. */
export function PathRibbon({
  onStation,
  opensFolded,
  at,
}: {
  onStation: (station: string) => void;
  opensFolded: boolean;
  /** The station that a reading is being taken at: the path is open then, and marks it. */
  at?: string;
}) {
  const bench = useTheBench();
  const [folded, setFolded] = useState(opensFolded);
  const isFolded = folded && at === undefined;
  const { profile, ladders, rules } = bench;
  const [chosen, setChosen] = useState<KeyState>();
  const ladder = ladders.find(({ keyState }) => keyState === chosen) ?? ladders[ladders.length - 1];
  const { rungs } = ladder;
  const row = useSuspectInView<HTMLDivElement>(rungs, !isFolded);
  const pumpAt = rungs.findIndex(({ side }) => side === 'pump');
  // Before anything is known of the path, the stations alone leave the room to the work.
  const begun = ladder.currentA !== undefined || rungs.some(({ volts }) => volts !== undefined);
  const groundColumns = rungs.length - pumpAt;
  const columns = `repeat(${pumpAt}, minmax(4.4rem, 1fr)) minmax(6.4rem, 1.15fr) repeat(${groundColumns}, minmax(4.4rem, 1fr))`;
  if (isFolded)
    return <FoldedPath ladder={ladder} bench={bench} onStation={onStation} onOpen={() => setFolded(false)} />;
  return (
    <section aria-label="Supply path" className="card p-3 pt-2">
      <div className="flex min-h-8 flex-wrap items-center gap-x-4">
        <SystemName bench={bench} profile={profile} />
        {begun && (
          <span className="label">
            <span className="text-ink">━</span> volts as read <span className="ml-2 text-steel">━</span> as a healthy
            path would show them
          </span>
        )}
        {ladders.length > 1 && (
          <span className="ml-auto">
            <Choice
              label="Key state shown"
              hideLabel
              options={ladders.map(({ keyState }) => ({ value: keyState, label: KEY_STATE_NAMES[keyState] }))}
              value={ladder.keyState}
              onChange={setChosen}
            />
          </span>
        )}
        {begun && ladders.length === 1 && <span className="label ml-auto">{KEY_STATE_NAMES[ladder.keyState]}</span>}
        <button
          type="button"
          aria-label="Fold the path"
          title="Fold the path"
          onClick={() => setFolded(true)}
          className={`grid size-11 place-items-center rounded-xl text-soft hover:text-ink ${begun ? '' : 'ml-auto'}`}
        >
          <ChevronUp aria-hidden className="size-5" />
        </button>
      </div>
      <div ref={row} className="overflow-x-auto">
        <div className="grid gap-x-1.5 gap-y-1 pt-1" style={{ gridTemplateColumns: columns }}>
          {begun && (
            <>
              <div style={{ gridColumn: `1 / ${pumpAt + 1}` }}>
                <SupplyStairs rungs={rungs.slice(0, pumpAt + 1)} limitV={rules.supplyDropV} />
              </div>
              <PumpBox ladder={ladder} bench={bench} />
              <div style={{ gridColumn: `${pumpAt + 2} / -1` }}>
                <GroundStairs rungs={rungs.slice(pumpAt + 1)} limitV={rules.groundDropV} />
              </div>
            </>
          )}
          {rungs.map((rung) => (
            <StationTile
              key={rung.station.id}
              rung={rung}
              standing={standingOf(rung, bench)}
              isHere={rung.station.id === at}
              onStation={onStation}
            />
          ))}
          <div className="rounded-xl border border-line px-2 py-1.5">
            <div className="text-[0.87rem] leading-tight font-semibold">Battery −</div>
            <div className="text-[0.87rem] text-soft">reference</div>
          </div>
        </div>
      </div>
    </section>
  );
}

/** Which path this is, and that it is only a stand-in while nobody chose the vehicle's own. */
function SystemName({ bench: { item }, profile }: { bench: Bench; profile: SystemProfile }) {
  const { system } = item;
  const text = system
    ? system.shipped
      ? `${system.name}, shipped path`
      : `${system.name}, version ${system.version}`
    : `${Object.values(PATH_TITLES).find((title) => title === profile.name) ?? profile.name}, taken from the intake`;
  return (
    <Link
      to={`/cases/${item.id}/power-path`}
      className="flex items-center gap-1.5 text-[0.93rem] font-semibold underline-offset-4 hover:underline"
    >
      <Route aria-hidden className="size-4 shrink-0" /> {text}
    </Link>
  );
}

/** What arrives: volts across the pump, its current and its speed. */
function PumpBox({ ladder, bench: { item } }: { ladder: CaseLadder; bench: Bench }) {
  const ramp = standingCaptures(item)
    .filter(({ link }) => (link.keyState ?? 'prime') === ladder.keyState)
    .at(-1)?.analysis?.ramp;
  const { acrossPumpV } = ladder.ledger;
  const { currentA } = ladder;
  return (
    <div className="grid content-center justify-items-center rounded-xl bg-enamel px-1 py-1 text-on-enamel">
      <div className="text-2xl leading-tight font-bold whitespace-nowrap">
        {acrossPumpV === undefined ? '–' : `${acrossPumpV.toFixed(2)} V`}
      </div>
      <div
        className={`text-center leading-tight font-semibold text-[#f0c987] ${currentA === undefined ? 'text-[0.93rem]' : 'text-lg'}`}
      >
        {currentA === undefined ? 'no current read' : currentA < 0.1 ? 'no current' : `${currentA.toFixed(2)} A`}
      </div>
      <div className="text-[0.87rem]">{ramp?.rpm === undefined ? 'across the pump' : `${grouped(ramp.rpm)} rpm`}</div>
    </div>
  );
}

function StationTile({
  rung: { station, volts, standing: own },
  standing: { mark: Mark, word, tone },
  isHere,
  onStation,
}: {
  rung: Rung;
  standing: Standing;
  isHere: boolean;
  onStation: (station: string) => void;
}) {
  const suspect = own === 'suspect';
  return (
    <button
      type="button"
      onClick={() => onStation(station.id)}
      {...(isHere && { 'aria-current': 'location' })}
      {...(suspect && { [SUSPECT_MARK]: true })}
      title={[station.name, station.pin && `pin ${station.pin}`, station.colour, station.location]
        .filter(Boolean)
        .join(', ')}
      className={`flex min-h-14 flex-col justify-between rounded-xl border px-1.5 py-1 text-left hover:border-ink ${suspect ? 'border-2 border-rust' : 'border-line'} ${isHere ? 'bg-paper ring-3 ring-enamel ring-inset' : ''}`}
    >
      <span className="line-clamp-3 w-full text-[0.87rem] break-words leading-tight font-semibold hyphens-auto">
        {station.name}
      </span>
      <span className="flex w-full flex-wrap items-baseline justify-between gap-x-1">
        <span className={`flex items-center gap-0.5 text-[0.8rem] ${tone}`}>
          <Mark aria-hidden className="size-3 shrink-0" /> {word}
        </span>
        {volts !== undefined && <span className="font-bold">{volts.toFixed(2)}</span>}
      </span>
    </button>
  );
}
