import { createRequire } from 'node:module';
import type {
  Content,
  ContentTable,
  StyleDictionary,
  TDocumentDefinitions,
  TFontDictionary,
} from 'pdfmake/interfaces.js';

export const PAPERS = ['A4', 'LETTER'] as const;
export type Paper = (typeof PAPERS)[number];

/** The application's own colours, as they print. */
export const INK = '#1c2b3a';
export const SOFT = '#576270';
export const RUST = '#b4472b';
export const MINERAL = '#2f6b53';
export const STEEL = '#2c5b88';
export const LINE = '#d8cdbb';

const { resolve } = createRequire(import.meta.url);
const text = (weight: number) =>
  resolve(`@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-${weight}-normal.woff`);
const title = resolve('@fontsource/bricolage-grotesque/files/bricolage-grotesque-latin-700-normal.woff');

export const FONTS: TFontDictionary = {
  Text: { normal: text(400), bold: text(700), italics: text(400), bolditalics: text(700) },
  Title: { normal: title, bold: title, italics: title, bolditalics: title },
};

const STYLES: StyleDictionary = {
  title: { font: 'Title', fontSize: 22, color: INK, margin: [0, 0, 0, 2] },
  heading: { font: 'Title', fontSize: 13, color: INK, margin: [0, 12, 0, 3] },
  label: { fontSize: 8.5, color: SOFT },
  found: { font: 'Title', fontSize: 18, color: RUST },
  large: { fontSize: 12 },
};

const MARGIN = 44;

/** A document on the shop's paper: its foot says which case it is and how far one has come. */
export function documentOf(paper: Paper, foot: string, content: Content[]): TDocumentDefinitions {
  return {
    pageSize: paper,
    pageMargins: [MARGIN, MARGIN, MARGIN, MARGIN + 10],
    defaultStyle: { font: 'Text', fontSize: 10, color: INK, lineHeight: 1.2 },
    styles: STYLES,
    content,
    // A heading never stands alone at a page's foot.
    pageBreakBefore: (node, { getFollowingNodesOnPage }) =>
      node.headlineLevel === 1 && getFollowingNodesOnPage().length === 0,
    footer: (page, pages) => ({
      columns: [
        { text: printable(foot), style: 'label', width: '*' },
        { width: 'auto', text: `${page} of ${pages}`, style: 'label', alignment: 'right' },
      ],
      margin: [MARGIN, 14, MARGIN, 0],
    }),
    info: { title: printable(foot), producer: 'Jarro', creator: 'Jarro' },
  };
}

export function heading(words: string): Content {
  return { text: words, style: 'heading', headlineLevel: 1 };
}

export function bullets(lines: readonly string[]): Content {
  return { ul: lines.map(printable), margin: [0, 0, 0, 2] };
}

/** A table with thin lines between its rows. @param aligned of each column, left where absent */
export function table(
  head: readonly string[],
  rows: readonly (readonly string[])[],
  widths: ContentTable['table']['widths'],
  { right = [], fontSize = 10 }: { readonly right?: readonly number[]; readonly fontSize?: number } = {},
): Content {
  const alignment = (column: number) => (right.includes(column) ? ('right' as const) : ('left' as const));
  return {
    fontSize,
    table: {
      headerRows: 1,
      dontBreakRows: true,
      ...(widths && { widths }),
      body: [
        head.map((words, i) => ({ text: words, style: 'label', alignment: alignment(i) })),
        ...rows.map((row) => row.map((words, i) => ({ text: printable(words), alignment: alignment(i) }))),
      ],
    },
    layout: {
      hLineWidth: (i) => (i === 0 ? 0 : i === 1 ? 1 : 0.5),
      vLineWidth: () => 0,
      hLineColor: (i) => (i === 1 ? INK : LINE),
      paddingLeft: (i) => (i === 0 ? 0 : 6),
      paddingRight: () => 0,
    },
  };
}

/** Signs that the report's font hasn't, in those that it has. */
const SPELT: Readonly<Record<string, string>> = { Ω: 'ohm', '→': 'to', '\u2009': ' ', '✓': 'yes', '≤': 'at most ' };

export function printable(words: string): string {
  return words.replace(/[Ω→\u2009✓≤]/g, (sign) => SPELT[sign]);
}

/** A time as a shop writes it. @param iso ISO 8601 */
export function when(iso: string): string {
  return new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'short' }).format(new Date(iso));
}
