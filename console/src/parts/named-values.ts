/** Lines of the form `name: value`; a value that is JSON is taken as that. */
export function namedValues(lines: string): Record<string, unknown> {
  return Object.fromEntries(
    lines
      .split('\n')
      .filter((line) => line.includes(':'))
      .map((line) => {
        const at = line.indexOf(':');
        const value = line.slice(at + 1).trim();
        try {
          return [line.slice(0, at).trim(), JSON.parse(value)];
        } catch {
          return [line.slice(0, at).trim(), value];
        }
      }),
  );
}
