const UNITS: [Intl.RelativeTimeFormatUnit, number][] = [
  ['day', 86_400],
  ['hour', 3_600],
  ['minute', 60],
  ['second', 1],
];

const relative = new Intl.RelativeTimeFormat('en', { numeric: 'auto', style: 'short' });

/** A time as people say it, seen from `now`: "3 min. ago", "in 2 hr.". */
export function said(time: string, now: number): string {
  const seconds = Math.round((Date.parse(time) - now) / 1000);
  if (Math.abs(seconds) < 5) {
    return 'just now';
  }
  const [unit, size] = UNITS.find(([, length]) => Math.abs(seconds) >= length)!;
  return relative.format(Math.trunc(seconds / size), unit);
}

/** How long is left until a time, seen from `now`: "29 min. left"; "overdue" when it has passed. */
export function left(time: string, now: number): string {
  const seconds = Math.round((Date.parse(time) - now) / 1000);
  if (seconds <= 0) {
    return 'overdue';
  }
  const [unit, size] = UNITS.find(([, length]) => seconds >= length)!;
  const amount = new Intl.NumberFormat('en', { style: 'unit', unit, unitDisplay: 'short' }).format(Math.floor(seconds / size));
  return `${amount} left`;
}

/** The exact time, for whoever hovers. */
export function exact(time: string): string {
  return new Date(time).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'medium' });
}

/** The day, as in "24 Nov 2026". */
export function day(time: string): string {
  return new Date(time).toLocaleDateString('en-GB', { dateStyle: 'medium' });
}

/** The time of day with seconds. */
export function clock(time: string): string {
  return new Date(time).toLocaleTimeString('en-GB');
}
