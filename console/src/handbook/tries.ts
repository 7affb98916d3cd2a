import type { TryOpen as Open } from '../api/client';

export type { Open };
type Schema = { type?: string | string[]; properties?: Record<string, Schema>; enum?: unknown[]; const?: unknown };

/** An answer that a schema would take, to be written over; what repeats an input is that input. */
export function skeleton(schema: Schema, inputs: Record<string, unknown> = {}): unknown {
  if (schema.const !== undefined) {
    return schema.const;
  }
  if (schema.enum?.length) {
    return schema.enum[0];
  }
  switch ([schema.type].flat()[0]) {
    case 'object':
      return Object.fromEntries(
        Object.entries(schema.properties ?? {}).map(([name, of]) => [name, name in inputs ? inputs[name] : skeleton(of)]),
      );
    case 'array':
      return [];
    case 'number':
    case 'integer':
      return 0;
    case 'boolean':
      return false;
    case 'string':
      return '';
    default:
      return schema.properties ? skeleton({ ...schema, type: 'object' }, inputs) : {};
  }
}

/** What is sent for a tool's or a model's answer; whoever is meant stands first. */
export function gives(open: Open, value: unknown): Record<string, unknown> {
  return open.sort === 'model' ? { model: open.step, gives: value } : { tool: open.what, with: open.shown, gives: value };
}

/** The same for a problem that it comes back with instead. */
export function fails(open: Open, problem: string): Record<string, unknown> {
  const failed = { fails: problem, detail: 'tried' };
  return open.sort === 'model' ? { model: open.step, ...failed } : { tool: open.what, with: open.shown, ...failed };
}

export type Says = 'approve' | 'decline' | 'feedback';

/** What people say; texts that aren't edited are left out. */
export function says(
  open: Open,
  say: Says,
  by: string,
  reason: string,
  texts: Record<string, string>,
  form?: unknown,
): Record<string, unknown> {
  const edited = Object.fromEntries(
    edits(open).flatMap(({ key, text }) => (texts[key] === undefined || texts[key] === text ? [] : [[key, texts[key]]])),
  );
  return {
    people: open.step,
    say,
    by: by.trim() || 'somebody',
    ...(reason.trim() ? { reason } : {}),
    ...(Object.keys(edited).length ? { texts: edited } : {}),
    ...(form === undefined ? {} : { form }),
  };
}

/** The texts on a sheet that may be edited. */
export function edits(open: Open): { key: string; text: string }[] {
  return (open.shown['edits'] ?? []) as { key: string; text: string }[];
}

/** What comes while it waits. */
export function comes(open: Open, named: string, text: string): Record<string, unknown> {
  switch (open.what) {
    case 'reply':
      return { comes: 'reply', text };
    case 'document':
      return { comes: 'document', document: { name: named || 'document.pdf', pages: [text] } };
    case 'case':
      return { comes: 'case', named: named || 'resolved' };
    default:
      return { comes: open.what, named, ...(text.trim() ? { gives: JSON.parse(text) as unknown } : {}) };
  }
}
