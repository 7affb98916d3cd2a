import { render, screen } from '@testing-library/svelte';
import userEvent from '@testing-library/user-event';
import { afterEach, expect, test, vi } from 'vitest';
import { api, type CouldDoRow, ApiError } from '../api/client';
import Lines from './lines.svelte';
import Thought from './thought.svelte';

afterEach(() => vi.restoreAllMocks());

test('inputs are read as JSON where they are, and as text otherwise', async () => {
  const asked = vi
    .spyOn(api, 'tryMandate')
    .mockResolvedValue({ verdict: 'ask', reason: '‘larger’ says ask', grant: 'larger', of: ['Duty managers'], limits: [] });
  render(Thought, { agent: 'purser', tool: 'fares.pay-refund' });

  await userEvent.type(screen.getByLabelText('For the case'), 'C-1001');
  await userEvent.type(screen.getByLabelText('Inputs, one a line'), 'reference: SK-48213\namount: 38.5');
  await userEvent.click(screen.getByRole('button', { name: 'Say' }));

  expect(asked).toHaveBeenCalledWith({
    agent: 'purser',
    tool: 'fares.pay-refund',
    caseId: 'C-1001',
    args: { reference: 'SK-48213', amount: 38.5 },
  });
  expect((await screen.findByRole('status')).textContent).toContain('Duty managers');
});

test('a refusal is shown in the service’s words', async () => {
  vi.spyOn(api, 'tryMandate').mockRejectedValue(new ApiError(404, 'Not found', 'There is no case ‘C-9’ that you could see.'));
  render(Thought, { agent: 'purser', tool: 'case.reply' });

  await userEvent.type(screen.getByLabelText('For the case'), 'C-9');
  await userEvent.click(screen.getByRole('button', { name: 'Say' }));

  expect((await screen.findByRole('alert')).textContent).toContain('C-9');
});

const LINE = {
  mandate: 'm',
  grant: 'small',
  verdict: 'allow' as const,
  when: 'args.amount <= 120.0',
  of: ['Duty managers'],
  limits: [{ words: 'at most 2 calls per day', atMost: 2, used: 1 }],
  beyond: 'ask',
};
const ROW: CouldDoRow = {
  agent: 'purser',
  tool: 'fares.pay-refund',
  effect: 'write',
  reach: 'alone',
  works: 'alone',
  words: '',
  lines: [LINE],
};

test('lines say the verdict, its limit with the use, and that nothing else goes through', () => {
  const { container } = render(Lines, { row: ROW });

  expect(container.textContent).toMatch(/small:\s+goes through alone/);
  expect(container.textContent).toMatch(/goes through alone\s+when/);
  expect(container.textContent).toMatch(/beyond that\s+asks Duty managers/);
  expect(container.textContent).toContain('used 1');
  expect(container.textContent).toContain('Anything else: never.');
});

test('a supervised agent asks where its mandate would allow', () => {
  const { container } = render(Lines, { row: { ...ROW, works: 'supervised' } });

  expect(container.textContent).toContain('works supervised');
});
