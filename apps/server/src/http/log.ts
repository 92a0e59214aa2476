import { pino } from 'pino';

/** One JSON line an event; the level comes from JARRO_LOG. */
export const log = pino({
  level: process.env.JARRO_LOG ?? 'info',
  redact: ['req.headers.cookie', 'req.headers.authorization', 'res.headers["set-cookie"]'],
});
