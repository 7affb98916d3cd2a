import { describe, expect, it } from 'vitest';
import { left, said } from './when';

const NOW = Date.parse('2026-11-24T12:00:00Z');

describe('said', () => {
  it.each([
    ['2026-11-24T11:59:58Z', 'just now'],
    ['2026-11-24T11:57:00Z', '3 min. ago'],
    ['2026-11-24T12:29:30Z', 'in 29 min.'],
    ['2026-11-24T09:00:00Z', '3 hr. ago'],
    ['2026-11-26T12:00:00Z', 'in 2 days'],
  ])('%s is said as %s', (time, words) => {
    expect(said(time, NOW)).toBe(words);
  });
});

describe('left', () => {
  it.each([
    ['2026-11-24T12:29:30Z', '29 min left'],
    ['2026-11-26T11:00:00Z', '1 day left'],
    ['2026-11-24T11:59:59Z', 'overdue'],
  ])('%s is said as %s', (time, words) => {
    expect(left(time, NOW)).toBe(words);
  });
});
