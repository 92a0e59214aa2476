import { useParams } from 'react-router';
import { errorText, useCaseDetailQuery } from '../../app/api';

/** The case that the address names. */
export function useCase() {
  const { id = '' } = useParams();
  const { data, error } = useCaseDetailQuery(id);
  return { item: data, error: errorText(error) };
}
