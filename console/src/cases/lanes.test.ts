import { describe, expect, it } from 'vitest';
import type { Mark } from '../api/client';
import { needsPerson, shownMarks } from './lanes';

function mark(what: string, data: unknown = {}): Mark {
  return { seq: 1, at: '2026-11-24T12:00:00Z', lane: 'agent', what, title: what, actor: { id: 'a', name: 'A', sort: 'agent' }, run: 'r', step: 's', data };
}

describe('lanes', () => {
  const marks = [mark('step'), mark('verdict', { verdict: 'allow' }), mark('verdict', { verdict: 'deny' }), mark('drafted')];

  it('leave out what went as expected, and never a refusal', () => {
    expect(shownMarks(marks, false).map((shown) => [shown.what, shown.data])).toEqual([
      ['verdict', { verdict: 'deny' }],
      ['drafted', {}],
    ]);
  });

  it('show everything when asked to', () => {
    expect(shownMarks(marks, true)).toHaveLength(4);
  });

  it('signal only where a person is needed', () => {
    expect(['approval-opened', 'handed-over', 'in-doubt', 'verdict', 'drafted'].filter((what) => needsPerson(mark(what)))).toEqual([
      'approval-opened',
      'handed-over',
      'in-doubt',
    ]);
  });
});
