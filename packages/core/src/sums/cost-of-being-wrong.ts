/** What is known before a part is replaced, and what it costs. Money in the shop's currency. */
export interface WrongRepair {
  /** Probability that the verdict is right as the evidence stands, 0 to 1. */
  readonly right: number;
  /** The same once the tests that are still lacking were done, 0 to 1. */
  readonly rightAfterTests: number;
  readonly testMinutes: number;
  readonly parts: number;
  readonly labourHours: number;
  /** An hour's labour. */
  readonly rate: number;
  /** What a comeback costs beside the repair itself: the second diagnosis, a courtesy car, goodwill. */
  readonly comeback: number;
}

/** What a decision costs on average: in the shop’s currency, and in hours of labour. */
export interface ExpectedLoss {
  readonly money: number;
  readonly hours: number;
}

/** Replacing now beside testing first. */
export interface CostOfBeingWrong {
  readonly now: ExpectedLoss;
  readonly testedFirst: ExpectedLoss;
  /** Whether the tests cost less than what they save. */
  readonly testingPays: boolean;
}

/**
 * Expected loss of replacing now against testing first. A wrong repair loses its part, its labour and the comeback; a right one
 * loses nothing, as the customer pays for it. So L = parts + hours · rate + comeback, and
 *   now = (1 − p) · L,   tested first = t · rate + (1 − q) · L
 * with p and q the probabilities of being right now and after the tests. (Expected value of a decision with and without further
 * information: Raiffa and Schlaifer, Applied Statistical Decision Theory, from memory.)
 */
export function costOfBeingWrong(asked: WrongRepair): CostOfBeingWrong {
  const { right, rightAfterTests, testMinutes, parts, labourHours, rate, comeback } = asked;
  const loss = parts + labourHours * rate + comeback;
  const testHours = testMinutes / 60;
  const after = Math.max(right, rightAfterTests);
  const now = { money: (1 - right) * loss, hours: (1 - right) * labourHours };
  const testedFirst = {
    money: testHours * rate + (1 - after) * loss,
    hours: testHours + (1 - after) * labourHours,
  };
  return { now, testedFirst, testingPays: testedFirst.money < now.money };
}

const MOST_SURE = 0.99;

/** The same in one plain sentence for whoever talks to the customer. @param part what would be replaced: "the pump" */
export function frontDeskSentence(part: string, asked: WrongRepair, currency: string): string {
  // Nothing is ever certain.
  const { now, testedFirst, testingPays } = costOfBeingWrong({ ...asked, right: Math.min(MOST_SURE, asked.right) });
  const money = (value: number) => `${currency} ${value.toFixed(0)}`.trim();
  const wrong = Math.max(1, Math.round(100 * (1 - asked.right)));
  const risk = `Replacing ${part} now is the wrong repair in ${wrong} of 100 such cases, which costs ${money(now.money)} on average`;
  const minutes = asked.testMinutes.toFixed(0);
  if (asked.testMinutes === 0) return `${risk}; no test is left that would lower that.`;
  return testingPays
    ? `${risk}; ${minutes} minutes of tests first bring that down to ${money(testedFirst.money)}, tests included.`
    : `${risk}; ${minutes} more minutes of tests would cost more than they save.`;
}
