/** What stands behind the # of a link that was mailed: it reaches no server with the address. */
export function secret(): string {
  return decodeURIComponent(location.hash.slice(1));
}
