import { describe, expect, it } from 'vitest';
import type { Mark } from '../api/client';
import { callOf, columnOf, columnsOf, newDay, shownMarks } from './lanes';

function mark(what: string, data: unknown = {}, weight: Mark['weight'] = 'telling'): Mark {
  return {
    seq: 1,
    at: '2026-11-24T12:00:00Z',
    lane: 'agent',
    what,
    weight,
    title: what,
    actor: { id: 'a', name: 'A', sort: 'agent' },
    run: 'r',
    step: 's',
    data,
  };
}

describe('lanes', () => {
  const marks = [
    mark('step', {}, 'expected'),
    mark('verdict', { verdict: 'allow' }, 'expected'),
    mark('verdict', { verdict: 'deny' }),
    mark('drafted'),
  ];

  it('leave out what went as expected, and never a refusal', () => {
    expect(shownMarks(marks, false).map((shown) => [shown.what, shown.data])).toEqual([
      ['verdict', { verdict: 'deny' }],
      ['drafted', {}],
    ]);
  });

  it('give each of several agents a column of its own', () => {
    const other = { ...mark('step'), actor: { id: 'b', name: 'B', sort: 'agent' as const } };
    const system = { ...mark('late'), actor: { id: 'system', name: 'Servitor', sort: 'system' as const } };
    const columns = columnsOf(['requester', 'agent', 'people'], [mark('step'), other, system]);
    expect(columns.map((column) => column.title)).toEqual(['requester', 'A', 'B', 'people']);
    expect([mark('step'), other, system].map((one) => columnOf(columns, one))).toEqual([1, 2, 1]);
  });

  it('are one for all agents where one works, or too many do', () => {
    const many = ['a', 'b', 'c', 'd'].map((id) => ({ ...mark('step'), actor: { id, name: id, sort: 'agent' as const } }));
    expect(columnsOf(['agent', 'people'], many)).toHaveLength(2);
    expect(columnsOf(['agent', 'people'], many.slice(0, 1))).toHaveLength(2);
  });

  it('show everything when asked to', () => {
    expect(shownMarks(marks, true)).toHaveLength(4);
  });

  it('say of a call that was sent what it was proposed with', () => {
    const proposed = { ...mark('call-proposed', { tool: 'fares.pay', inputs: { amount: 3 }, origins: {} }), seq: 1 };
    const other = { ...mark('call-proposed', { tool: 'fares.find', inputs: {}, origins: {} }), seq: 2 };
    const elsewhere = { ...mark('call-proposed', { tool: 'fares.pay', inputs: {}, origins: {} }), seq: 3, run: 'r2' };
    const sent = { ...mark('call-sent', { tool: 'fares.pay', key: 'k' }), seq: 4 };
    const all = [proposed, other, elsewhere, sent];
    expect(callOf(all, sent)).toBe(proposed.data);
    expect(callOf(all, mark('drafted'))).toBeUndefined();
    expect(callOf([sent], sent)).toBeUndefined();
  });

  it('name a day where it begins', () => {
    const first = mark('step');
    expect(newDay(first, undefined)).toBe('24 Nov 2026');
    expect(newDay({ ...first, at: '2026-11-24T13:00:00Z' }, first)).toBeUndefined();
    expect(newDay({ ...first, at: '2026-11-26T12:00:00Z' }, first)).toBe('26 Nov 2026');
  });
});
