/** Values as people write them into fields, and back: texts as they stand, anything else as JSON. */
export type Fields = Record<string, { type?: string | string[] }>;

type Values = Record<string, unknown>;

export function written(values: Values): Record<string, string> {
  return Object.fromEntries(Object.entries(values).map(([name, value]) => [name, text(value)]));
}

function text(value: unknown): string {
  return typeof value === 'string' ? value : JSON.stringify(value);
}

/** What the answer repeats of the inputs, most likely. */
export function shared(inputs: Values, answers: object): Values {
  return Object.fromEntries(Object.entries(inputs).filter(([name]) => name in answers));
}

/** Whether somebody wrote something else than was proposed. */
export function changed(proposed: Values, now: Record<string, string>): boolean {
  return Object.entries(now).some(([name, value]) => value !== text(proposed[name]));
}

/** What is written, in the type that was proposed or that the schema wants; fields left empty are left out. */
export function read(proposed: Values, now: Record<string, string>, schema: Fields = {}): Values {
  return Object.fromEntries(
    Object.entries(now)
      .filter(([, value]) => value !== '')
      .map(([name, value]) => [name, isText(proposed[name], schema[name]?.type) ? value : parsed(value)]),
  );
}

function isText(proposed: unknown, type: string | string[] | undefined): boolean {
  return typeof proposed === 'string' || (type !== undefined && [type].flat().includes('string'));
}

function parsed(value: string): unknown {
  try {
    return JSON.parse(value);
  } catch {
    return value; // the service says what it wants instead
  }
}
