import { expose } from 'comlink';
import { recheck, weigh } from './weigh';

expose({ recheck, weigh });
