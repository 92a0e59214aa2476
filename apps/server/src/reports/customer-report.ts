import { FAMILY_NAMES, type Report, type ReportedCapture } from '@jarro/core';
import type { Content, TDocumentDefinitions } from 'pdfmake/interfaces.js';
import { bullets, documentOf, heading, MINERAL, printable, table, type Paper } from './paper.js';
import { rotorPicture, stairsPicture, turnPicture } from './pictures.js';

/** Of each list as much as a customer reads. */
const MOST_LINES = 5;

/** One or two plain pages: what was complained of, what was found and how, what was done, and what isn't proven. */
export function customerReport(report: Report, paper: Paper): TDocumentDefinitions {
  const { shop, number, vehicle, plate, complaint, openedAt, verdict, repair, stillIn } = report;
  const after = report.captures.findLast(({ phase }) => phase === 'after');
  return documentOf(paper, `${shop} · case ${number} · ${vehicle}`, [
    { text: printable(shop), style: 'label' },
    { text: printable(vehicle), style: 'title' },
    {
      text: printable([plate, `case ${number}`, `opened ${openedAt.slice(0, 10)}`].filter(Boolean).join(' · ')),
      style: 'label',
    },
    heading('What you told us'),
    { text: printable(`“${complaint}”`), style: 'large' },
    heading('What we found'),
    ...found(report),
    ...(verdict ? picture(verdict.capture, after, verdict.ladder) : []),
    ...(verdict && verdict.proven.length > 0
      ? [heading('How we know'), bullets(verdict.proven.slice(0, MOST_LINES))]
      : []),
    ...ruledOut(report),
    ...(repair ? [heading('What we did'), ...done(repair)] : []),
    ...(report.repeats.length > 0 ? [heading('The same tests, before and after'), repeats(report)] : []),
    ...(verdict && verdict.notKnown.length > 0
      ? [heading('What isn’t proven'), bullets(verdict.notKnown.slice(0, MOST_LINES))]
      : []),
    ...(stillIn.length > 0 ? [heading('Still in the vehicle'), bullets(stillIn)] : []),
    {
      text: printable(
        `Every reading behind this page is kept with its time and its seal (${report.seal.head.slice(0, 12)}). Jarro advises; a qualified person decides.`,
      ),
      style: 'label',
      margin: [0, 14, 0, 0],
    },
  ]);
}

/** Parts of the vehicle alone: a customer asks what else it could have been. */
function ruledOut({ verdict }: Report): Content[] {
  const parts = (verdict?.ruledOut ?? []).flatMap(({ what }) => what).filter((name) => !NO_PARTS.has(name));
  return parts.length === 0 ? [] : [heading('What it isn’t'), { text: printable(`Ruled out: ${parts.join(', ')}.`) }];
}

const NO_PARTS: ReadonlySet<string> = new Set([
  FAMILY_NAMES.healthy,
  FAMILY_NAMES['not-fuel'],
  FAMILY_NAMES['measurement-error'],
]);

function found({ verdict }: Report): Content[] {
  if (!verdict) return [{ text: 'The diagnosis is not finished: nothing is condemned.', style: 'large' }];
  return [
    { text: printable(verdict.title), style: 'found', ...(verdict.title === 'Pump cleared' && { color: MINERAL }) },
    { text: printable(verdict.statement), style: 'large' },
    ...(verdict.override === undefined
      ? []
      : [{ text: printable(`Decided by a lead against the usual proofs: ${verdict.override}`), bold: true }]),
  ];
}

function picture(
  decisive: ReportedCapture | undefined,
  after: ReportedCapture | undefined,
  ladder: NonNullable<Report['verdict']>['ladder'],
): Content[] {
  if (decisive?.turnA) {
    return [
      {
        columns: [
          { svg: turnPicture(decisive.turnA, after?.turnA, 350), width: 350 },
          ...(decisive.bars ? [{ svg: rotorPicture(decisive.bars), width: 120 }] : []),
        ],
        columnGap: 16,
        margin: [0, 8, 0, 0],
      },
      {
        text: printable(
          after?.turnA
            ? `The pump’s current over one turn: dashed as found, solid after the repair. As found: ${decisive.text}.`
            : `The pump’s current over one turn, and each bar of its commutator: ${decisive.text}.`,
        ),
        style: 'label',
      },
    ];
  }
  if (!ladder) return [];
  return [
    { svg: stairsPicture(ladder, 500), width: 500, margin: [0, 8, 0, 0] },
    {
      text: 'Volts along the pump’s supply as measured under load; dashed as a healthy one would show them.',
      style: 'label',
    },
  ];
}

function done({ what, parts }: NonNullable<Report['repair']>): Content[] {
  return [
    { text: printable(what), style: 'large' },
    ...(parts.length > 0
      ? [
          {
            text: printable(
              `Fitted: ${parts.map(({ name, number }) => [name, number].filter(Boolean).join(' ')).join('; ')}.`,
            ),
          },
        ]
      : []),
  ];
}

const RESULTS = {
  passes: 'passes',
  fails: 'still fails',
  unclear: 'not clear',
  'not-possible': 'could not be repeated',
  open: 'not repeated yet',
} as const;

export function repeats({ repeats: rows }: Report): Content {
  return table(
    ['Test', 'Before', 'After', ''],
    rows.map(({ name, before, after = '', result }) => [name, before, after, RESULTS[result]]),
    ['30%', '28%', '28%', '*'],
  );
}
