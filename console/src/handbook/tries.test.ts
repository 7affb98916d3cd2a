import { expect, it } from 'vitest';
import { comes, fails, gives, type Open, says, skeleton } from './tries';

const TOOL: Open = { sort: 'tool', step: 'Find it', what: 'fares.find', shown: { reference: 'SK-1' }, schema: {}, notForReal: '' };

it('makes an answer out of a schema, with what the inputs say', () => {
  const schema = {
    type: 'object',
    properties: {
      reference: { type: 'string' },
      paid: { type: 'number' },
      state: { enum: ['sailed', 'cancelled'] },
      sailing: { type: ['object', 'null'], properties: { ship: { type: 'string' } } },
      tags: { type: 'array' },
      open: { type: 'boolean' },
    },
  };
  expect(skeleton(schema, { reference: 'SK-1' })).toEqual({
    reference: 'SK-1',
    paid: 0,
    state: 'sailed',
    sailing: { ship: '' },
    tags: [],
    open: false,
  });
});

it('says which tool answers, and at which step a model does', () => {
  expect(gives(TOOL, { paid: 1 })).toEqual({ tool: 'fares.find', with: { reference: 'SK-1' }, gives: { paid: 1 } });
  expect(fails({ ...TOOL, sort: 'model' }, 'unavailable')).toEqual({ model: 'Find it', fails: 'unavailable', detail: 'tried' });
});

it('sends only texts that were edited', () => {
  const sheet: Open = {
    ...TOOL,
    sort: 'people',
    shown: {
      edits: [
        { key: 'a', text: 'one' },
        { key: 'b', text: 'two' },
      ],
    },
  };
  expect(says(sheet, 'approve', ' osei ', '', { a: 'one', b: 'other' })).toEqual({
    people: 'Find it',
    say: 'approve',
    by: 'osei',
    texts: { b: 'other' },
  });
});

it('tells what comes', () => {
  expect(comes({ ...TOOL, sort: 'wait', what: 'reply' }, '', 'Here.')).toEqual({ comes: 'reply', text: 'Here.' });
  expect(comes({ ...TOOL, sort: 'wait', what: 'event' }, 'arrived', '{"at":1}')).toEqual({
    comes: 'event',
    named: 'arrived',
    gives: { at: 1 },
  });
});
