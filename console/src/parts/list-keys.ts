/**
 * Keyboard for a list of links: j and k or the arrows move, Enter opens as links do, / goes to the search field. Typing in
 * a field is left alone.
 */
export function listKeys(list: HTMLElement) {
  function onKey(event: KeyboardEvent): void {
    const target = event.target as HTMLElement;
    if (event.ctrlKey || event.metaKey || event.altKey || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName)) {
      return;
    }
    if (event.key === '/') {
      const search = document.querySelector<HTMLInputElement>('input[type=search]');
      if (search) {
        event.preventDefault();
        search.focus();
      }
      return;
    }
    const step = event.key === 'j' || event.key === 'ArrowDown' ? 1 : event.key === 'k' || event.key === 'ArrowUp' ? -1 : 0;
    const items = [...list.querySelectorAll<HTMLElement>('[data-item]')];
    if (step !== 0 && items.length) {
      event.preventDefault();
      const at = items.indexOf(document.activeElement as HTMLElement);
      items[Math.max(0, Math.min(items.length - 1, at < 0 ? (step > 0 ? 0 : items.length - 1) : at + step))]!.focus();
    }
  }
  document.addEventListener('keydown', onKey);
  return { destroy: () => document.removeEventListener('keydown', onKey) };
}
