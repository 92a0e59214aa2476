import { configureStore } from '@reduxjs/toolkit';
import { faultReducer } from '../features/case/fault-slice';
import { api } from './api';

export const store = configureStore({
  reducer: { [api.reducerPath]: api.reducer, fault: faultReducer },
  middleware: (getDefault) => getDefault().concat(api.middleware),
});
