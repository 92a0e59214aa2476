import { KEY_STATE_NAMES, type KeyState, type Report, type ReportedCapture } from '@jarro/core';
import type { Content, TDocumentDefinitions } from 'pdfmake/interfaces.js';
import { repeats } from './customer-report.js';
import { bullets, documentOf, heading, printable, RUST, SOFT, table, when, type Paper } from './paper.js';
import { rotorPicture, stairsPicture, turnPicture } from './pictures.js';

/** Everything: the grounds of the verdict, every capture with its findings and their sources, all evidence with its seals. */
export function technicalReport(report: Report, paper: Paper): TDocumentDefinitions {
  const { shop, number, vehicle, plate, complaint, openedAt, verdict, repair, needs, captures } = report;
  return documentOf(paper, `${shop} · case ${number} · ${vehicle} · technical`, [
    { text: printable(shop), style: 'label' },
    { text: printable(vehicle), style: 'title' },
    {
      text: printable(
        [plate, `case ${number}`, `opened ${when(openedAt)}`, `“${complaint}”`].filter(Boolean).join(' · '),
      ),
      style: 'label',
    },
    ...(verdict ? grounds(verdict) : [heading('No verdict stands')]),
    ...(repair ? repaired(repair) : []),
    ...(report.repeats.length > 0 ? [heading('The failing tests again'), repeats(report)] : []),
    ...(report.path ? pathAgain(report.path) : []),
    ...(report.sweep.length > 0 ? sweepAgain(report.sweep) : []),
    ...(report.hold ? holdAgain(report.hold) : []),
    ...(needs.length > 0
      ? [heading('Hand-over'), bullets(needs.map(({ text, state }) => `${state === 'met' ? '' : `${state}: `}${text}`))]
      : []),
    ...captures.flatMap(captureLines),
    heading('All evidence, in order'),
    table(
      ['No.', 'What', 'Who and when', 'Seal'],
      report.evidence.map(({ sequence, text, by, at, seal, voided }) => [
        String(sequence),
        voided === undefined ? text : `VOIDED (${voided}): ${text}`,
        `${by}, ${when(at)}`,
        seal.slice(0, 12),
      ]),
      [20, '*', 128, 66],
      { fontSize: 8.5 },
    ),
    ...sealLines(report.seal),
  ]);
}

function grounds(verdict: NonNullable<Report['verdict']>): Content[] {
  const { title, statement, by, at, override, proven, notProven, ruledOut, notKnown, ladder } = verdict;
  return [
    heading('Verdict'),
    { text: printable(title), style: 'found' },
    { text: printable(statement), style: 'large' },
    { text: printable(`${by}, ${when(at)}`), style: 'label' },
    ...(override === undefined
      ? []
      : [{ text: printable(`Against the gate, by a lead: ${override}`), bold: true, color: RUST }]),
    ...(proven.length > 0 ? [heading('Proven'), bullets(proven)] : []),
    ...(notProven.length > 0 ? [heading('Not proven'), bullets(notProven)] : []),
    ...(ruledOut.length > 0
      ? [
          heading('Ruled out'),
          bullets(
            ruledOut.map(
              ({ what, by: reading }) => `${what.join(', ')}${reading ? `; most of all by ${reading}` : ''}`,
            ),
          ),
        ]
      : []),
    ...(notKnown.length > 0 ? [heading('Not known'), bullets(notKnown)] : []),
    ...(ladder ? ladderLines(ladder) : []),
  ];
}

function ladderLines(ladder: NonNullable<NonNullable<Report['verdict']>['ladder']>): Content[] {
  const steps = ladder.rungs.filter(({ step }) => step !== undefined);
  return [
    heading('The path as it stood'),
    { svg: stairsPicture(ladder, 500), width: 500 },
    ...(steps.length === 0
      ? []
      : [
          table(
            ['Up to', 'Drop', 'Resistance', 'May lose', ''],
            steps.map(({ station, step, standing }) => [
              station.name,
              `${step?.dropV.toFixed(2)} V`,
              step?.resistanceOhm === undefined ? '' : `${step.resistanceOhm.toFixed(3)} Ω`,
              `${step?.limitV.toFixed(2)} V`,
              standing === 'unknown' ? '' : standing,
            ]),
            ['*', 60, 80, 60, 60],
            { right: [1, 2, 3] },
          ),
        ]),
    ...ladder.ledger.lines.map(({ side, dropV, limitV, rule, source }) => ({
      text: printable(`${side}: ${dropV.toFixed(2)} V of ${limitV.toFixed(2)} V allowed. ${rule} (${source})`),
      style: 'label',
    })),
  ];
}

function pathAgain({ before, after, stations }: NonNullable<Report['path']>): Content[] {
  const volts = (value: number | undefined) => (value === undefined ? '–' : `${value.toFixed(2)} V`);
  const state = (key: KeyState) => KEY_STATE_NAMES[key].toLowerCase();
  return [
    heading('The path before and after'),
    table(
      ['Loaded volts', `before, ${state(before)}`, `after, ${state(after)}`, 'a healthy path'],
      stations.map(({ name, beforeV, afterV, healthyV }) => [name, volts(beforeV), volts(afterV), volts(healthyV)]),
      ['*', 90, 90, 90],
      { right: [1, 2, 3] },
    ),
  ];
}

function sweepAgain(sweep: Report['sweep']): Content[] {
  return [
    heading('The duty sweep before and after'),
    table(
      ['Commanded', 'before', 'after'],
      sweep.map(({ commandPercent, before = '–', after = '–' }) => [`${commandPercent} %`, before, after]),
      [70, '*', '*'],
    ),
  ];
}

function holdAgain({ before, after }: NonNullable<Report['hold']>): Content[] {
  return [
    heading('The hold after shut-down, before and after'),
    table(['before', 'after'], [[before, after]], ['*', '*']),
  ];
}

function repaired({ what, parts, leftOut, minutes }: NonNullable<Report['repair']>): Content[] {
  return [
    heading('Repair'),
    { text: printable(`${what}${minutes === undefined ? '' : ` ${minutes} minutes.`}`) },
    ...(parts.length > 0 ? [bullets(parts.map(({ name, number }) => [name, number].filter(Boolean).join(', ')))] : []),
    ...(leftOut.length > 0
      ? [{ text: 'Left out:', style: 'label' }, bullets(leftOut.map(({ text, why }) => `${text} Because: ${why}`))]
      : []),
  ];
}

function captureLines({ label, phase, text, turnA, bars, interval, findings }: ReportedCapture): Content[] {
  const bounds = interval ? ` Speed 95 %: ${interval[0].toFixed(0)} to ${interval[1].toFixed(0)} rpm.` : '';
  const shown: Content[] = [
    heading(`Capture, ${phase === 'before' ? 'as found' : 'after the repair'}: ${printable(label)}`),
    { text: printable(`${text}.${bounds}`) },
    ...(turnA
      ? [
          {
            columns: [
              { svg: turnPicture(turnA, undefined, 350), width: 350 },
              ...(bars ? [{ svg: rotorPicture(bars), width: 120 }] : []),
            ],
            columnGap: 16,
          },
        ]
      : []),
  ];
  return [
    // A picture stays under its heading.
    { stack: shown, unbreakable: true },
    ...findings.map(({ text: said, rule, source }) => ({
      text: [
        printable(said),
        { text: printable(rule === said ? ` (${source})` : ` ${rule} (${source})`), color: SOFT, fontSize: 8.5 },
      ],
      margin: [0, 2, 0, 0] as [number, number, number, number],
    })),
  ];
}

function sealLines({ entries, head, problems }: Report['seal']): Content[] {
  return [
    {
      text: printable(
        problems.length === 0
          ? `Each entry carries a seal (SHA-256) over its content and the entry before it; all ${entries} were checked and none was changed. Last seal: ${head}.`
          : `Something was changed outside Jarro: ${problems.join(' ')}`,
      ),
      style: 'label',
      margin: [0, 8, 0, 0],
      ...(problems.length > 0 && { color: RUST }),
    },
    {
      text: 'Jarro advises; a qualified person decides. Local rules and licensed practice come first.',
      style: 'label',
    },
  ];
}
