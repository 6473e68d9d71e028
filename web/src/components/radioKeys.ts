const WAYS: Record<string, number> = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 };

/** Arrow keys in a radio group choose the next radio or the one before, round and round (WAI-ARIA). */
export function radioKeys(e: KeyboardEvent): void {
  const by = WAYS[e.key];
  if (!by) return;
  const radios = [...(e.currentTarget as HTMLElement).querySelectorAll<HTMLElement>('[role=radio]:not(:disabled)')];
  const at = radios.indexOf(document.activeElement as HTMLElement);
  const next = at < 0 ? undefined : radios[(at + by + radios.length) % radios.length];
  if (!next) return;
  e.preventDefault();
  e.stopPropagation();
  next.focus();
  next.click();
}
