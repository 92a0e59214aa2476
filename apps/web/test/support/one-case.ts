import type { CaseDetail, CaseStage, EvidenceItem, Me, UserRole } from '@jarro/api-types';
import {
  ACKNOWLEDGED_CAUTIONS,
  caseBench,
  DEFAULT_HOUSE_RULES,
  newestIntake,
  pointersFrom,
  presentEvidence,
  pressureSheet,
  systemOf,
} from '@jarro/core';

/** What a page sent to be kept. */
export interface Sent {
  readonly method: string;
  /** Below /api. */
  readonly path: string;
  readonly body: Readonly<Record<string, unknown>>;
}

export type Link = Pick<EvidenceItem, 'kind' | 'at' | 'value'> & Partial<EvidenceItem>;

export function somebody(role: UserRole = 'technician', more: Partial<Me['user']> = {}): Me {
  return {
    uploadLimitBytes: 1e9,
    photoLimitBytes: 2 * 1024 * 1024,
    user: { id: 'jem', name: 'Jem', email: 'jem@shop.test', role, pressureUnit: null, hasCode: false, ...more },
    shop: {
      ...{ name: 'A shop', town: 'A town', rules: DEFAULT_HOUSE_RULES, pressureUnit: 'psi' },
      ...{ labourRate: 90, currency: '€', version: 3 },
    },
  };
}

/**
 * A server with one case on it, as a page sees it: it answers what pages ask, keeps what they send, and the core makes of
 * it what it makes of any case.
 */
export class OneCase {
  readonly sent: Sent[] = [];
  readonly links: EvidenceItem[] = [];
  /** In its words every request to keep something is refused. */
  refusal: string | undefined;
  stage: CaseStage = 'open';
  /** Answers to questions other than the case and who is signed in, by their path. */
  readonly pages = new Map<string, unknown>([
    ['tools', []],
    ['session/colleagues', []],
  ]);
  readonly asked: string[] = [];

  constructor(readonly me: Me = somebody()) {}

  has(...links: readonly Link[]): this {
    for (const link of links) {
      const sequence = this.links.length + 1;
      this.links.push({
        ...{ id: `link-${sequence}`, sequence, keyState: 'prime', faultPresent: true, how: null },
        ...{ takenBy: 'Jem', takenAt: '2026-03-02T09:00:00Z', hash: String(sequence), voided: null },
        ...link,
      });
    }
    return this;
  }

  /** Nothing that can hurt is still to be faced. */
  hasSeenCautions(): this {
    return this.has(...ACKNOWLEDGED_CAUTIONS.map((at): Link => ({ kind: 'caution', at, value: null })));
  }

  detail(): CaseDetail {
    const { links, stage } = this;
    const complaint = 'Cranks, won’t start';
    const { intake, sequence } = newestIntake(links);
    const evidence = presentEvidence({ complaint, links, goods: [], measuredOf: () => undefined }, stage);
    const { rules } = this.me.shop;
    const sheet = pressureSheet(evidence, rules);
    const { ladders } = caseBench(evidence, rules);
    return {
      ...{ id: 'c', version: links.length, number: 7, complaint, stage, openedAt: '2026-03-02T08:00:00Z' },
      openedBy: 'Jem',
      vehicle: { model: 'Brindle Rook', year: 2016, engine: '1.4 petrol', plate: 'BR16 ROK' },
      ...{ comebackOf: null, comebacks: [], captures: [], goods: [], evidence: [...links] },
      intake: { ...intake, sequence },
      system: systemOf(links) ?? null,
      seal: { entries: links.length, head: 'h', intact: true, problems: [], since: '2026-03-02T08:00:00Z' },
      ...{ sheet, ledger: ladders[ladders.length - 1].ledger },
      pointers: pointersFrom(evidence.entries, evidence.intake, sheet),
    };
  }

  /** In place of `fetch`. */
  readonly answer = async (request: Request): Promise<Response> => {
    const { pathname, searchParams } = new URL(request.url);
    const path = pathname.replace('/api/', '');
    if (request.method === 'GET') {
      this.asked.push(`${path}?${searchParams.toString()}`);
      const page = path === 'session' ? this.me : path === 'cases/c' ? this.detail() : this.pages.get(path);
      return page === undefined ? json(404, { detail: `Nothing is at ${path}.` }) : json(200, page);
    }
    const text = await request.text();
    const body = (text ? JSON.parse(text) : {}) as Record<string, unknown>;
    this.sent.push({ method: request.method, path, body });
    if (this.refusal) return json(409, { detail: this.refusal });
    this.keep(path, body);
    return json(201, { id: body.id ?? `new-${this.sent.length}`, sequence: this.links.length, version: 2 });
  };

  private keep(
    path: string,
    { id, kind, at, value, keyState, faultPresent, text, stage, caution, intake, ...how }: Sent['body'],
  ) {
    const link = (of: object) => this.has({ ...(typeof id === 'string' && { id }), ...of } as Link);
    if (path === 'cases/c/evidence') link({ kind, at, value, keyState, faultPresent, how });
    if (path === 'cases/c/notes') link({ kind: 'note', at: stage, value: text });
    if (path === 'cases/c/cautions') link({ kind: 'caution', at: caution, value: null });
    if (path === 'cases/c/repair') link({ kind: 'repair', at, value });
    if (path === 'cases/c/intake') link({ kind: 'intake', at: 'case', value: intake });
  }
}

function json(status: number, body: unknown): Response {
  return new Response(JSON.stringify(body), { status, headers: { 'Content-Type': 'application/json' } });
}
