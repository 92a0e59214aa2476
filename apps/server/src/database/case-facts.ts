/** What of a case stands outside its chain of evidence, and where that chain ends: signed together. */
export interface CaseFacts {
  readonly caseId: string;
  readonly shopId: string;
  readonly number: number;
  readonly openedBy: string;
  readonly openedAt: string;
  readonly complaint: string;
  readonly stage: string;
  readonly model: string;
  readonly year: number | null;
  readonly engine: string;
  readonly plate: string;
  /** Links in the chain, and the hash of the last. */
  readonly entries: number;
  readonly head: string;
  /** Since when this case is signed: what was changed before, nobody can tell. */
  readonly since: string;
}
