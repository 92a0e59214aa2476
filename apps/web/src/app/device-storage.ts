/** Bumped when the shape of what is kept changes, so that nothing of an older version is misread. */
const PREFIX = 'jarro-kept-1/';

/** What this browser keeps over a reload, by name. */
export function readDevice(): Record<string, unknown> {
  const names = Object.keys(localStorage).filter((name) => name.startsWith(PREFIX));
  return Object.fromEntries(names.map((name) => [name.slice(PREFIX.length), parsed(localStorage.getItem(name))]));
}

/** Where the storage is full or forbidden, it lives as long as the page, and what was written before stays. */
export function writeDevice(name: string, value: unknown): void {
  try {
    if (value === undefined) localStorage.removeItem(PREFIX + name);
    else localStorage.setItem(PREFIX + name, JSON.stringify(value));
  } catch (error) {
    console.warn(`${name} could not be kept on this device`, error);
  }
}

/** Hears what the same person's other tabs keep. */
export function hearOtherTabs(onChange: (name: string, value: unknown) => void): void {
  addEventListener('storage', ({ key, newValue }) => {
    if (key?.startsWith(PREFIX)) onChange(key.slice(PREFIX.length), parsed(newValue));
  });
}

function parsed(text: string | null): unknown {
  return text === null ? undefined : (JSON.parse(text) as unknown);
}
