import { ensureBuilt, ensurePackages } from './lib/prepare.mjs';

ensurePackages();
ensureBuilt();
