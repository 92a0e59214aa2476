import type { ReactNode } from 'react';
import { useParams } from 'react-router';
import { errorText, useCaseDetailQuery, useMeQuery } from '../../app/api';
import type { CaseDetail, Me } from '@jarro/api-types';
import { ErrorNotice } from '../../ui/notice';

/** Shows a page of the case that the address names, once it is there; until then, why it isn't. */
export function WithCase({ children }: { children: (item: CaseDetail, me: Me) => ReactNode }) {
  const { id = '' } = useParams();
  const { data: item, error } = useCaseDetailQuery(id);
  const { data: me } = useMeQuery();
  if (item && me) return children(item, me);
  return (
    <main className="p-4">
      <ErrorNotice text={errorText(error)} />
    </main>
  );
}
