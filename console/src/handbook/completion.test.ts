import { describe, expect, it } from 'vitest';
import { quoted, words } from './completion';

const OUTLINE = {
  steps: ['find the booking', 'pay'],
  tools: { 'fares.find-booking': ['reference'], 'fares.pay-refund': ['reference', 'amount'] },
  groups: ['duty-managers'],
  desks: ['passengers'],
  agents: ['purser'],
  kinds: ['refund'],
  pages: ['answer-in-writing'],
  verbs: { approve: ['of', 'within'], decide: [], each: ['as', 'follow'], follow: ['with'] },
  problems: ['not-found', 'refused'],
  fields: { '': ['booking', 'case'], booking: ['reference', 'sailing'], 'booking.sailing': ['state'], 'booking.sails-on': ['day'] },
};

describe('completion', () => {
  it.each([
    ['go: ', ['hand over', 'stop', 'find the booking', 'pay']],
    ['go: { approved: ', ['hand over', 'stop', 'find the booking', 'pay']],
    ['  - otherwise: p', ['hand over', 'stop', 'find the booking', 'pay']],
    ['on: { not-found: ', ['hand over', 'stop', 'find the booking', 'pay']],
    ['call: fares.', ['fares.find-booking', 'fares.pay-refund']],
    ['of: ', ['duty-managers', 'passengers']],
    ['follow: ', ['answer-in-writing']],
    ['text: "${', ['booking', 'case']],
    ['text: "${booking.', ['reference', 'sailing']],
    ["  - when: 'booking.sailing.", ['state']],
    ["  - when: 'booking.`sails-on`.", ['day']],
  ])('offers after ‘%s’', (before, expected) => {
    expect(words(before, [], OUTLINE)).toEqual(expected);
  });

  it.each([
    ['  ki', ['title: x', 'case:'], ['kind', 'page', 'subject']],
    ['  kind: ', ['title: x', 'case:'], ['refund']],
    ['  - { ', ['case:', 'answers:'], ['tool', 'model', 'people']],
    ['  - { tool: fares.', ['case:', 'answers:'], ['fares.find-booking', 'fares.pay-refund']],
    ['  - { people: Pay, say: ', ['case:', 'answers:'], ['approve', 'decline', 'feedback']],
    ['  - { unasked: ', ['case:', 'answers:'], ['pause', 'resume', 'advise']],
    ['  - { comes: ', ['case:', 'answers:'], ['reply', 'document', 'event']],
    ['  en', ['case:', 'answers:', 'must:'], ['end', 'steps', 'calls']],
    ['  end: ', ['case:', 'must:'], ['resolved', 'with-people', 'waiting']],
    ['  asked: [', ['case:', 'must:'], ['duty-managers', 'passengers']],
    ['mu', ['title: x', 'case:', '  kind: refund'], ['title', 'case', 'answers']],
  ])('offers in a rehearsal after ‘%s’', (before, lines, first) => {
    expect(words(before, lines, OUTLINE)?.slice(0, 3)).toEqual(first);
  });

  it('offers the inputs of the tool that is called', () => {
    expect(words('with: { ', ['call: fares.pay-refund', 'with: { '], OUTLINE)).toEqual(['reference', 'amount']);
  });

  it('puts names that would be read as something else between backticks', () => {
    expect(['reference', 'sails-on'].map(quoted)).toEqual(['reference', '`sails-on`']);
  });

  it('offers problems first, then where they lead', () => {
    expect(words('on: { ', [], OUTLINE)).toContain('not-found');
  });

  it('offers verbs at the start of a block, and the keys of its verb after that', () => {
    expect(words('', [], OUTLINE)).toEqual(['approve', 'decide', 'each', 'follow']);
    expect(words('', ['approve: May we pay?'], OUTLINE)).toEqual(['of', 'within']);
    expect(words('', ['each: "${order.items}"', 'follow: pay-item'], OUTLINE)).toEqual(['as', 'follow']);
  });
});
