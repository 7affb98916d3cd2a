import { render } from '@testing-library/svelte';
import { describe, expect, it } from 'vitest';
import ValueView from './value-view.svelte';

describe('a value', () => {
  it.each([
    ['plain words', 'Hello.', 'Hello.'],
    ['a number', 12.5, '12.5'],
    ['nothing', null, 'none'],
    ['an empty text', '', 'none'],
    ['an empty list', [], 'none'],
    ['an empty object', {}, 'none'],
    ['a list of words', ['deck', 'bow'], 'deck, bow'],
    ['fields within fields', { sailing: { state: 'cancelled' } }, 'sailing state cancelled'],
    ['no', false, 'no'],
  ])('%s', (_what, value, expected) => {
    const { container } = render(ValueView, { value });
    expect(container.textContent!.replace(/\s+/g, ' ').trim()).toBe(expected);
  });

  it('shows tags as letters', () => {
    const { container } = render(ValueView, { value: { note: '<img src=x onerror=alert(1)>' } });
    expect(container.querySelector('img')).toBeNull();
    expect(container).toHaveTextContent('<img src=x');
  });
});
