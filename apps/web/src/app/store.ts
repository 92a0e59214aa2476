import { configureStore } from '@reduxjs/toolkit';
import { faultReducer } from '../features/case/fault-slice';
import { habitsReducer } from '../features/path/habits';
import { aheadReducer } from './ahead-slice';
import { baseApi } from './api';
import { hearOtherTabs, readDevice, writeDevice } from './device-storage';
import { kept, keptReducer } from './kept-slice';
import { outboxIs, outboxReducer, type Waiting } from './outbox-slice';

/** Beside the drafts, whose names begin with a person's id. */
const OUTBOX = 'outbox';

/** What a page keeps, with what this device kept of it before. Written back to the device with every change. */
export function makeStore() {
  const { [OUTBOX]: waiting = [], ...byName } = readDevice();
  const store = configureStore({
    reducer: {
      [baseApi.reducerPath]: baseApi.reducer,
      ahead: aheadReducer,
      fault: faultReducer,
      habits: habitsReducer,
      kept: keptReducer,
      outbox: outboxReducer,
    },
    preloadedState: { kept: { byName }, outbox: { waiting: waiting as readonly Waiting[] } },
    middleware: (getDefault) => getDefault().concat(baseApi.middleware),
  });
  let before = store.getState();
  let isHearing = false;
  store.subscribe(() => {
    const now = store.getState();
    // What another tab wrote is on the device already, and may be older by now than what is there.
    if (isHearing) before = now;
    const names = new Set([...Object.keys(before.kept.byName), ...Object.keys(now.kept.byName)]);
    for (const name of before.kept === now.kept ? [] : names) {
      if (before.kept.byName[name] !== now.kept.byName[name]) writeDevice(name, now.kept.byName[name]);
    }
    if (before.outbox !== now.outbox) writeDevice(OUTBOX, now.outbox.waiting);
    before = now;
  });
  hearOtherTabs((name, value) => {
    isHearing = true;
    if (name === OUTBOX) store.dispatch(outboxIs((value ?? []) as readonly Waiting[]));
    else store.dispatch(kept({ name, value }));
    isHearing = false;
  });
  return store;
}
