import { expect, test, vi } from 'vitest';
import { upTo } from './pages';

const PARTS = [
  { items: [1, 2], next: 'b' },
  { items: [3, 4], next: 'c' },
  { items: [5], next: null },
];

function asking() {
  return vi.fn((query: Record<string, string>) => Promise.resolve(PARTS['bc'.indexOf(query.cursor ?? '') + (query.cursor ? 1 : 0)]!));
}

test('as many parts are asked for as are wanted', async () => {
  const ask = asking();

  expect(await upTo(3, ask)).toEqual({ items: [1, 2, 3, 4], more: true });
  expect(ask.mock.calls).toEqual([[{}], [{ cursor: 'b' }]]);
});

test('the end of the list is its end', async () => {
  expect(await upTo(50, asking())).toEqual({ items: [1, 2, 3, 4, 5], more: false });
});
