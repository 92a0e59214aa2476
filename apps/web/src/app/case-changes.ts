/**
 * Listens for a case's version while this tab is looked at. A browser allows few connections to one server (six by HTTP/1.1),
 * so a tab in the background gives its own up.
 * @returns stops listening
 */
export function listenForChanges(caseId: string, onVersion: (version: number) => void): () => void {
  let events: EventSource | undefined;
  const followVisibility = () => {
    if (document.hidden) {
      events?.close();
      events = undefined;
      return;
    }
    if (events) return;
    events = new EventSource(`/api/cases/${caseId}/changes`);
    events.onmessage = ({ data }) => onVersion(Number(data));
  };
  followVisibility();
  document.addEventListener('visibilitychange', followVisibility);
  return () => {
    document.removeEventListener('visibilitychange', followVisibility);
    events?.close();
  };
}
