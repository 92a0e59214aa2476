import type { BoardQuestion } from '../../app/api';

/** The shop's cases without any choice among them. */
export const EVERYTHING: BoardQuestion = {
  page: 1,
  search: '',
  stage: '',
  mine: false,
  verdict: '',
  suspect: '',
  olderDays: 0,
  by: '',
};
