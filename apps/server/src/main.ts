import { createApp } from './app.js';
import { readConfig } from './config.js';
import { LoopWatch } from './health/loop-watch.js';
import { installLastResort } from './http/last-resort.js';
import { log } from './http/log.js';

const config = readConfig(process.env);
const app = await createApp(config);
installLastResort(app);
await app.listen(config.port, config.host);
app.get(LoopWatch).begin();
log.info({ host: config.host, port: config.port }, 'serving');

// Started by a script that has gone: nobody could stop this process any more.
process.on('disconnect', () => void app.close().then(() => process.exit(0)));
