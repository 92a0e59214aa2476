import { createRequire } from 'node:module';
import type { Report } from '@jarro/core';
import type { TDocumentDefinitions, TFontDictionary } from 'pdfmake/interfaces.js';
import { customerReport } from './customer-report.js';
import { FONTS, type Paper } from './paper.js';
import { technicalReport } from './technical-report.js';

export const REPORT_KINDS = ['customer', 'technical'] as const;
export type ReportKind = (typeof REPORT_KINDS)[number];

export interface ReportTask {
  readonly report: Report;
  readonly kind: ReportKind;
  readonly paper: Paper;
}

interface Pdfmake {
  setFonts(fonts: TFontDictionary): void;
  setUrlAccessPolicy(may: (url: string) => boolean): void;
  setLocalAccessPolicy(may: (path: string) => boolean): void;
  createPdf(definition: TDocumentDefinitions): { getBuffer(): Promise<Buffer> };
}

const FONT_FILES: ReadonlySet<unknown> = new Set(
  Object.values(FONTS).flatMap(({ normal, bold, italics, bolditalics }): unknown[] => [
    normal,
    bold,
    italics,
    bolditalics,
  ]),
);

let pdfmake: Pdfmake | undefined;

/** Loaded by the first report: a thread that only weighs never needs it. */
function thePdfmake(): Pdfmake {
  if (!pdfmake) {
    pdfmake = createRequire(import.meta.url)('pdfmake') as Pdfmake;
    pdfmake.setFonts(FONTS);
    // Nothing of a case may make the server fetch or read anything but its fonts.
    pdfmake.setUrlAccessPolicy(() => false);
    pdfmake.setLocalAccessPolicy((path) => FONT_FILES.has(path));
  }
  return pdfmake;
}

/** @returns a PDF */
export async function renderReport({ report, kind, paper }: ReportTask): Promise<Uint8Array> {
  const definition = (kind === 'customer' ? customerReport : technicalReport)(report, paper);
  return Uint8Array.from(await thePdfmake().createPdf(definition).getBuffer());
}
