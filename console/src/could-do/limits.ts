import type { CouldDoRow, LimitPoint } from '../api/client';

/** What is tried: a grant of an agent's mandate, or a step of a page. */
export type Tried = { agent: string; grant: string } | { page: string; step: string };

/** The amount of a line that can be tried otherwise: in its condition, or its first limit. */
export function amountOf(line: CouldDoRow['lines'][number]): number | undefined {
  return line.verdict === 'allow' ? (amountIn(line.when) ?? line.limits[0]?.atMost) : undefined;
}

/** Amounts worth trying beside one. */
export function around(now: number): number[] {
  return [now / 2, now, now * 2, now * 4];
}

/** The amount that a condition holds an input against, such as `args.amount <= 120.0`; nothing when there is none. */
export function amountIn(when: string): number | undefined {
  const found = /args\.\w+\s*<=?\s*([0-9]+(?:\.[0-9]+)?)/.exec(when);
  return found ? Number(found[1]) : undefined;
}

const WIDTH = 300;
const HEIGHT = 120;
const EDGE = 10;

/** The two lines of a curve over limits, as points of a drawing of 300 by 120; the higher the more. */
export function curve(points: LimitPoint[]): { saved: string; declined: string; dots: { limit: number; x: number; y: number }[] } {
  const widest = Math.max(...points.map((point) => point.limit), 1);
  const most = Math.max(...points.map((point) => point.saved), 1);
  const x = (limit: number) => EDGE + (limit / widest) * (WIDTH - 2 * EDGE);
  const y = (count: number) => HEIGHT - EDGE - (count / most) * (HEIGHT - 2 * EDGE);
  const line = (of: (point: LimitPoint) => number) =>
    points.map((point) => `${x(point.limit).toFixed(1)},${y(of(point)).toFixed(1)}`).join(' ');
  return {
    saved: line((point) => point.saved),
    declined: line((point) => point.declined),
    dots: points.map((point) => ({ limit: point.limit, x: x(point.limit), y: y(point.saved) })),
  };
}
