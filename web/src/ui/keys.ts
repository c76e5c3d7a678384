/** Whether a key goes into a field or a control rather than to the page. */
export function isTyping(event: KeyboardEvent): boolean {
  if (event.ctrlKey || event.metaKey || event.altKey) return true;
  const target = event.target as HTMLElement | null;
  if (!target) return false;
  if (target.closest("[role=dialog]")) return true;
  if (target.matches("input, textarea, select, [contenteditable]")) return true;
  return (event.key === " " || event.key === "Enter") && target.matches("button, a, [role=button]");
}
