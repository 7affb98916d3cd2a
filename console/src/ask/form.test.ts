import { expect, it } from 'vitest';
import { ApiError } from '../api/client';
import { missing, refused, typed } from './form';

const booking = {
  name: 'booking',
  title: 'Your booking',
  type: 'text',
  required: true,
  pattern: '^SK-[0-9]+$',
  hint: 'Such as SK-48213.',
};
const count = { name: 'count', title: 'How many', type: 'number', required: false, pattern: '', hint: '' };
const late = { name: 'late', title: 'Was it late?', type: 'yes/no', required: false, pattern: '', hint: '' };

it('says what is missing beside the field, with its hint', () => {
  expect(missing([booking, count], ' ', {})).toEqual({
    subject: 'Say in a few words what it is about.',
    booking: 'This is needed. Such as SK-48213.',
  });
  expect(missing([booking], 'x', { booking: '48213' })).toEqual({ booking: 'This doesn’t look right. Such as SK-48213.' });
  expect(missing([booking], 'x', { booking: ' SK-1 ' })).toEqual({});
});

it('leaves a pattern that browsers can’t read to the service', () => {
  expect(missing([{ ...booking, pattern: '(?i)^a$' }], 'x', { booking: 'b' })).toEqual({});
});

it('gives what the service refused to the field it is about', () => {
  expect(refused(new ApiError(422, '', '', ['fields/booking: no', 'address: give it', 'something else']))).toEqual({
    booking: 'no',
    address: 'give it',
    '': 'something else',
  });
});

it('sends values as their types', () => {
  expect(typed([booking, count, late], { booking: ' SK-1 ', count: '2', late: 'no' })).toEqual({ booking: 'SK-1', count: 2, late: false });
  expect(typed([booking, count], { count: '' })).toEqual({});
});
