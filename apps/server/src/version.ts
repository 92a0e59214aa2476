/** Version of the core that measures: it stands beside every result. */
export const CORE_VERSION = '0.1.0';
