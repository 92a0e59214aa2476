/** What the weighing worker does for the page. */
export { recheck, weighCase as weigh } from '@jarro/core';
