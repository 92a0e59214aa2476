import { useNavigate } from 'react-router';
import { useLazyMeQuery, useSignInMutation } from '../../app/api';

/**
 * Signs somebody in and goes on to a page. Who it is is asked before: what was said of nobody being signed in is only
 * forgotten once nothing else is asked any more, and the page would lead back to the door.
 */
export function useEnter() {
  const [signIn, { error, isLoading }] = useSignInMutation();
  const [askWho] = useLazyMeQuery();
  const navigate = useNavigate();
  const enter = async (who: { email: string; password: string }, to: string) => {
    const result = await signIn(who);
    if ('error' in result) return;
    await askWho();
    await navigate(to, { replace: true });
  };
  return { enter, error, isLoading };
}
