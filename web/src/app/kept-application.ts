/** The first page comes first: the rest of the application is fetched when it is there. */
const LATER_MS = 5000;

/** Keeps the application itself in this browser, where one can, so that a page is loaded again
 * while the server is away. */
export function keepApplication(): () => void {
  // Not while it is being developed: what was kept would stand in the way of what is new.
  if (!import.meta.env.PROD || !("serviceWorker" in navigator)) return () => {};
  const later = setTimeout(() => {
    navigator.serviceWorker.register("/sw.js").catch(() => {});
  }, LATER_MS);
  return () => clearTimeout(later);
}
