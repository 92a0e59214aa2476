export { baseApi } from './base';
export * from './case';
export * from './letters';
export * from './refusals';
export * from './session';
export * from './shop';
