import type { CaseStage, StoredAnalysis } from '@jarro/api-types';
import { InputError } from '@jarro/core';
import type { CaptureFacts } from '../captures/content-hash.js';
import type { EvidenceRecord } from '../evidence/evidence.entities.js';

export const BUNDLE_FORMAT = 'jarro.bundle/1';
export const MANIFEST = 'bundle.json';

/** A link as a bundle holds it: its row, with its time as text. */
export type BundledLink = Omit<EvidenceRecord, 'takenAt'> & { readonly takenAt: string };

/** What stands in `bundle.json`; all else in the zip are the bytes that it names. */
export interface Bundle {
  readonly format: typeof BUNDLE_FORMAT;
  readonly jarro: string;
  readonly exportedAt: string;
  /** Whether the scope's files are in it, byte for byte as they were sent. */
  readonly originals: boolean;
  readonly shop: { readonly name: string; readonly town: string };
  readonly case: {
    readonly id: string;
    readonly number: number;
    readonly complaint: string;
    readonly stage: CaseStage;
    readonly openedAt: string;
    readonly openedBy: string;
  };
  readonly vehicle: {
    readonly model: string;
    readonly year: number | null;
    readonly engine: string;
    readonly plate: string;
  };
  /** Who is meant by the ids in the links. */
  readonly people: Readonly<Record<string, string>>;
  readonly links: readonly BundledLink[];
  readonly captures: readonly BundledCapture[];
  readonly analyses: readonly {
    readonly captureId: string;
    readonly coreVersion: string;
    readonly result: StoredAnalysis;
    readonly madeAt: string;
  }[];
}

/** What is said of a capture beside its samples. */
export type BundledCapture = CaptureFacts & { readonly id: string };

const UUID = '[0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12}';

/** Names of the zip's entries, made and read in one place. */
export const PLACES = {
  original: { of: (sha256: string) => `originals/${sha256}`, like: /^originals\/([0-9a-f]{64})$/ },
  chunk: {
    of: (id: string, channel: number, level: number, part: number) => `captures/${id}/${channel}-${level}-${part}`,
    like: new RegExp(`^captures/(${UUID})/(\\d{1,3})-(\\d{1,2})-(\\d{1,6})$`),
  },
  /** Part -1 is the small picture. */
  photo: {
    of: (id: string, part: number) => `photos/${id}/${part}`,
    like: new RegExp(`^photos/(${UUID})/(-1|\\d{1,4})$`),
  },
} as const;

/** For people who open the zip; nothing of it is read back. */
export const ASIDE = ['report-customer.pdf', 'report-technical.pdf', 'case.json'] as const;

export function isKnownPlace(name: string): boolean {
  const bytes = Object.values(PLACES).some(({ like }) => like.test(name));
  return bytes || name === MANIFEST || (ASIDE as readonly string[]).includes(name);
}

/** One refusal for whatever isn't a whole, unchanged bundle. */
export class BundleError extends InputError {
  constructor(reason: string) {
    super(`This bundle can’t be taken in: ${reason} Nothing was stored.`);
  }
}
