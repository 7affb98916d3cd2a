import { describe, expect, it } from 'vitest';
import type { LimitPoint } from '../api/client';
import { amountIn, curve } from './limits';

const point = (limit: number, saved: number, declined: number): LimitPoint => ({
  limit,
  saved,
  declined,
  judged: 10,
  asked: 0,
  alone: 0,
  money: 0,
  cases: [],
  price: [],
});

describe('limits', () => {
  it('finds the amount an input is held against', () => {
    expect(amountIn('args.amount <= 120.0 && source(args.reference).owner == requester.account')).toBe(120);
    expect(amountIn('args.amount < 7')).toBe(7);
    expect(amountIn('args.kind == "x"')).toBeUndefined();
    expect(amountIn('')).toBeUndefined();
  });

  it('draws what is saved above what was declined, the wider the limit the further right', () => {
    const drawn = curve([point(50, 0, 0), point(100, 5, 1), point(200, 10, 5)]);
    expect(drawn.saved).toBe('80.0,110.0 150.0,60.0 290.0,10.0');
    expect(drawn.declined).toBe('80.0,110.0 150.0,100.0 290.0,60.0');
    expect(drawn.dots.map((dot) => dot.limit)).toEqual([50, 100, 200]);
  });

  it('draws a flat line when nothing is saved', () => {
    expect(curve([point(0, 0, 0)]).saved).toBe('10.0,110.0');
  });
});
