import type { Locator, Page } from '@playwright/test';

/** Tabs from one end of the largest page to the other, with room. */
const MOST_TABS = 300;

/** What a locator does that a hand on the mouse would; taken from one of them, since they share it. */
type Hands = Pick<Locator, 'click' | 'fill'>;

/**
 * Puts the mouse away: until it is disposed of, whatever is clicked is reached by Tab, and by arrows inside a group of
 * choices, and pressed; whatever is filled in is typed.
 */
export function withoutMouse(page: Page): Disposable {
  const hands = Object.getPrototypeOf(page.locator('body')) as Hands;
  const { click, fill } = hands;
  hands.click = async function (this: Locator) {
    await this.waitFor({ state: 'visible' });
    const isChosen = await reach(page, this);
    if (!isChosen) await page.keyboard.press('Enter');
  };
  hands.fill = async function (this: Locator, value: string) {
    await this.waitFor({ state: 'visible' });
    await reach(page, this);
    await page.keyboard.press('Control+A');
    await page.keyboard.type(value);
  };
  return {
    [Symbol.dispose]() {
      Object.assign(hands, { click, fill });
    },
  };
}

/** Moves the focus there. @returns whether arriving already chose it, as arrows do in a group of radio buttons */
async function reach(page: Page, target: Locator): Promise<boolean> {
  // Found once, and again where it was drawn anew: to look for it by its role after every Tab takes longer than the Tab.
  let element = await target.elementHandle();
  for (let tabs = 0; tabs < MOST_TABS; tabs++) {
    const found = await element?.evaluate((it) => ({
      isOnPage: it.isConnected,
      isRadio: it.getAttribute('role') === 'radio',
      isThere: it === document.activeElement || it.contains(document.activeElement),
      inItsGroup: it.closest('[role=radiogroup]')?.contains(document.activeElement) ?? false,
    }));
    if (!found?.isOnPage) {
      element = await target.elementHandle();
      continue;
    }
    if (found.isThere) return found.isRadio;
    await page.keyboard.press(found.isRadio && found.inItsGroup ? 'ArrowDown' : 'Tab');
  }
  throw new Error(`The keyboard doesn’t get to ${target.toString()}.`);
}
