const LANGUAGE = typeof navigator === 'undefined' ? 'en-GB' : navigator.language;
const DAY = /^\d{4}-\d{2}-\d{2}$/;
const MOMENT = /^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}(:\d{2}(\.\d+)?)?(Z|[+-]\d{2}:\d{2})?$/;

/** An amount of money as people of `language` write it, with what it is in. */
export function money(value: number, currency: string, language = LANGUAGE): string {
  return new Intl.NumberFormat(language, { style: 'currency', currency, currencyDisplay: 'code' }).format(value);
}

/** A plain value as people of `language` write it: numbers, dates and yes or no; texts stay as they are. */
export function said(value: unknown, language = LANGUAGE): string {
  if (typeof value === 'number') {
    return new Intl.NumberFormat(language, { maximumFractionDigits: 12, useGrouping: Number.isInteger(value) ? false : 'min2' }).format(
      value,
    );
  } else if (typeof value === 'boolean') {
    return value ? 'yes' : 'no';
  } else if (typeof value === 'string' && DAY.test(value) && !Number.isNaN(Date.parse(value))) {
    return new Date(value).toLocaleDateString(language, { dateStyle: 'medium', timeZone: 'UTC' });
  } else if (typeof value === 'string' && MOMENT.test(value) && !Number.isNaN(Date.parse(value))) {
    return new Date(value).toLocaleString(language, { dateStyle: 'medium', timeStyle: 'short' });
  }
  return String(value);
}
