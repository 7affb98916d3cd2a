/** What the address says after its question mark; a part that isn't there is empty. */
export function fromAddress(name: string): string {
  return new URLSearchParams(location.search).get(name) ?? '';
}

/** Writes what a list is narrowed to into the address, so that it can be kept and sent to others. */
export function toAddress(parts: Record<string, string>): void {
  const query = new URLSearchParams(Object.entries(parts).filter(([, value]) => value)).toString();
  history.replaceState(history.state, '', location.pathname + (query ? `?${query}` : ''));
}
