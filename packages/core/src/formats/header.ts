import { findUnit, type UnitDefinition } from '../units/units.js';

/** How a column of time is called. */
export const TIME_NAME = /^(time|t|zeit|temps|tiempo|timestamp|seconds?|elapsed)\b/i;
/** No header says more than fits here. */
export const LONGEST_NAME = 200;
/** "Channel A" is a scope's first channel and not one in amperes. */
const LETTERED = /\b(ch|chan|channel|input|trace|probe|kanal|voie|canal)\.?$/i;

/** "Pump (mA)", "Pump [A]", "pump_mA", "Pump in V" -> name and unit. */
export function splitUnit(cell: string): { name: string; unit?: UnitDefinition } {
  const text = cell.slice(0, LONGEST_NAME);
  const bracket = /^(.*?)\s*[([]\s*([^()[\]]+)\s*[)\]]\s*$/.exec(text);
  const suffix = /^(.*?)(?:_|\s+in\s+|\s*\/\s*|\s+)([A-Za-zµμΩ]+)$/.exec(text);
  for (const match of [bracket, suffix]) {
    if (match === suffix && match && LETTERED.test(match[1])) continue;
    const unit = match && findUnit(match[2]);
    if (match && unit) return { name: match[1].trim() || text.trim(), unit };
  }
  return { name: text.trim() };
}
