import { describe, expect, it } from 'vitest';
import { money, said } from './said';

describe('plain values', () => {
  it.each([
    [310.5, 'de-DE', '310,5'],
    [12345.6, 'en-GB', '12,345.6'],
    [600123, 'en-GB', '600123'],
    [true, 'en-GB', 'yes'],
    [false, 'de-DE', 'no'],
    ['2028-05-31', 'en-GB', '31 May 2028'],
    ['2028-05-31', 'de-DE', '31.05.2028'],
    ['2028-13-31', 'en-GB', '2028-13-31'],
    ['SK-600123', 'fr-FR', 'SK-600123'],
    ['2028', 'en-GB', '2028'],
  ])('%s in %s', (value, language, expected) => expect(said(value, language)).toBe(expected));

  it('writes amounts with their currency', () => expect(money(310, 'EUR', 'de-DE')).toMatch(/^310,00.EUR$/));

  it('gives moments their time', () => expect(said('2026-11-29T08:05:00Z', 'en-GB')).toMatch(/Nov 2026, \d\d:\d\d/));
});
