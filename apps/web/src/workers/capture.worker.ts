import { expose } from 'comlink';
import { CaptureDesk } from './capture-desk';

expose(new CaptureDesk());
