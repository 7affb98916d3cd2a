import { describe, expect, it } from 'vitest';
import { isAt, letters, linkTo, marked, told } from './found';

describe('where a value was found', () => {
  const cell = { document: 'D-1', name: 'declaration.xlsx', sheet: 'Goods & more', at: 'C7' };

  it('is told in words and linked', () => {
    expect(told(cell)).toBe('declaration.xlsx, Goods & more, C7');
    expect(linkTo('C-1', cell)).toBe('/cases/C-1/documents/D-1?sheet=Goods+%26+more&at=C7');
    expect(linkTo('C-1', { document: 'D-1', name: 'a.pdf' })).toBe('/cases/C-1/documents/D-1');
  });

  it('counts columns as sheets do', () => {
    expect([0, 25, 26, 701].map(letters)).toEqual(['A', 'Z', 'AA', 'ZZ']);
    expect(isAt('C7', 7, 2)).toBe(true);
    expect(isAt('C7', 7, 3)).toBe(false);
    expect(isAt('row 7', 7)).toBe(true);
  });

  it('marks words wherever they stand, and nothing when there are none', () => {
    expect(marked('Valid until: 14 May. VALID UNTIL: 14 May', 'valid until')).toEqual([
      '',
      'Valid until',
      ': 14 May. ',
      'VALID UNTIL',
      ': 14 May',
    ]);
    expect(marked('abc', 'x')).toEqual(['abc']);
    expect(marked('abc', '')).toEqual(['abc']);
  });
});
