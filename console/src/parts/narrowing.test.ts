import { beforeEach, describe, expect, it } from 'vitest';
import { Narrowing } from './narrowing.svelte';

describe('what a list is narrowed to', () => {
  beforeEach(() => history.replaceState(null, '', '/cases'));

  it('comes out of the address and goes back into it, beside what else the view is', () => {
    history.replaceState(null, '', '/cases?agent=purser&waiting-for=duty&q=varra');
    const narrowing = new Narrowing();
    expect(narrowing.query).toEqual({ agent: 'purser', 'waiting-for': 'duty' });

    narrowing.parts.since = '2026-06-01';
    narrowing.parts.agent = ' ';
    narrowing.keep({ q: 'varra', state: '' });
    expect(location.search).toBe('?q=varra&waiting-for=duty&since=2026-06-01');
  });

  it('says whether it narrows anything', () => {
    const narrowing = new Narrowing();
    expect(narrowing.isSet).toBe(false);
    narrowing.parts.kind = 'refund';
    expect(narrowing.isSet).toBe(true);
  });
});
