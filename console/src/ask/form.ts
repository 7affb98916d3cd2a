import type { ApiError, Kind } from '../api/client';

type Field = Kind['fields'][number];

/** What is wrong with what was filled in, in words for whoever fills it in, by the field's name; `subject` is always needed. */
export function missing(fields: Field[], subject: string, values: Record<string, string>): Record<string, string> {
  const wrong: Record<string, string> = {};
  if (!subject.trim()) {
    wrong.subject = 'Say in a few words what it is about.';
  }
  for (const field of fields) {
    const value = (values[field.name] ?? '').trim();
    if (!value && field.required) {
      wrong[field.name] = `This is needed.${field.hint ? ' ' + field.hint : ''}`;
    } else if (value && field.pattern && !fits(field.pattern, value)) {
      wrong[field.name] = `This doesn’t look right.${field.hint ? ' ' + field.hint : ''}`;
    }
  }
  return wrong;
}

/** A pattern is looked for anywhere, as the service does; one that browsers can’t read is left to the service. */
function fits(pattern: string, value: string): boolean {
  try {
    return new RegExp(pattern, 'u').test(value);
  } catch {
    return true;
  }
}

/** What the service found wrong, by the field’s name; what is about no field stands under the empty name. */
export function refused(failure: ApiError): Record<string, string> {
  const wrong: Record<string, string> = {};
  for (const error of failure.errors) {
    const said = /^(?:fields\/)?([\w-]+): (.*)$/.exec(error);
    wrong[said?.[1] ?? ''] = said?.[2] ?? error;
  }
  return wrong;
}

/** The values as their fields’ types say. */
export function typed(fields: Field[], values: Record<string, string>): Record<string, unknown> {
  return Object.fromEntries(
    fields
      .filter((field) => (values[field.name] ?? '').trim() !== '')
      .map((field) => {
        const value = values[field.name]!.trim();
        return [field.name, field.type === 'number' ? Number(value) : field.type === 'yes/no' ? value === 'yes' : value];
      }),
  );
}
