import { expose } from 'comlink';
import { weigh } from './weigh';

expose({ weigh });
