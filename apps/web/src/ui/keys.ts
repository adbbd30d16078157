/** Whether a key press belongs to a field that text is typed into, or a list that is open; boxes and radios are none. */
export function isTyping(target: EventTarget | null): boolean {
  const e = target as HTMLElement | null;
  if (!e?.matches) return false;
  return e.isContentEditable || e.matches('input:not([type=radio]):not([type=checkbox]), textarea, select');
}
