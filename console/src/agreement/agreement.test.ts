import { render, screen } from '@testing-library/svelte';
import userEvent from '@testing-library/user-event';
import { expect, it, vi } from 'vitest';
import { api, type AgreementSheet } from '../api/client';
import { session } from '../shell/session.svelte';
import Agreement from './agreement.svelte';
import { comparable, next } from './agreement';

const SHEET: AgreementSheet = {
  tool: 'fares.pay-refund',
  acts: true,
  works: 'shadow',
  agents: { bosun: 'supervised' },
  counted: {
    same: { calls: 3, money: 60 },
    other: { calls: 1, money: 12.5 },
    'not-comparable': { calls: 2, money: 0 },
    open: { calls: 0, money: 0 },
  },
  calls: [],
};

it('trusts with a step more, and with nothing above alone', () => {
  expect(next('shadow')).toBe('supervised');
  expect(next('supervised')).toBe('alone');
  expect(next('alone')).toBeUndefined();
  expect(comparable(SHEET)).toBe(4);
});

it('tells how far people did the same, and changes the draft', async () => {
  vi.spyOn(api, 'agreement').mockResolvedValue({ currency: 'EUR', tools: [SHEET] });
  vi.spyOn(session, 'is').mockReturnValue(true);
  const trust = vi.spyOn(api, 'trust').mockResolvedValue({ path: 'tools/fares.yaml' });
  render(Agreement);
  expect(await screen.findByText(/75 %/)).toBeInTheDocument();
  expect(screen.getByText('1 · 12.50 EUR')).toBeInTheDocument();
  await userEvent.click(screen.getByRole('button', { name: 'Have fares.pay-refund work supervised' }));
  expect(trust).toHaveBeenCalledWith({ tool: 'fares.pay-refund', works: 'supervised' });
  expect(await screen.findByText('tools/fares.yaml')).toBeInTheDocument();
});
