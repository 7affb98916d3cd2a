import { render, screen } from '@testing-library/svelte';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { api, type Run, ApiError } from '../api/client';
import Doubt from './doubt.svelte';

const RUN = { id: 'R-1', doubt: { tool: 'fares.pay-refund', key: 'k-1', inputs: { reference: 'LX-1', amount: 20 } } } as unknown as Run;

describe('a call in doubt', () => {
  const settle = vi.spyOn(api, 'settleRun');
  const onChanged = vi.fn();

  beforeEach(() => {
    settle.mockReset().mockResolvedValue(undefined as never);
    onChanged.mockReset();
  });

  it('shows what was sent and takes no answer without a reason', () => {
    render(Doubt, { run: RUN, onChanged });
    expect(screen.getByText('fares.pay-refund')).toBeInTheDocument();
    expect(screen.getByText('LX-1')).toBeInTheDocument();
    expect(screen.getByRole('button', { name: 'It happened' })).toBeDisabled();
    expect(screen.getByRole('button', { name: /It did not/ })).toBeDisabled();
  });

  it('says that it happened, with what it gave', async () => {
    render(Doubt, { run: RUN, onChanged });
    await userEvent.type(screen.getByLabelText('How do you know?'), 'It is in the ledger.');
    await userEvent.type(screen.getByLabelText(/what it gave/), '{{"receipt":"P-9"}');
    await userEvent.click(screen.getByRole('button', { name: 'It happened' }));
    expect(settle).toHaveBeenCalledWith('R-1', { happened: true, reason: 'It is in the ledger.', result: { receipt: 'P-9' } });
    expect(onChanged).toHaveBeenCalledOnce();
  });

  it('says that it did not happen, without a result', async () => {
    render(Doubt, { run: RUN, onChanged });
    await userEvent.type(screen.getByLabelText('How do you know?'), 'Asked the bank.');
    await userEvent.click(screen.getByRole('button', { name: /It did not/ }));
    expect(settle).toHaveBeenCalledWith('R-1', { happened: false, reason: 'Asked the bank.' });
  });

  it('sends nothing when the result can’t be read', async () => {
    render(Doubt, { run: RUN, onChanged });
    await userEvent.type(screen.getByLabelText('How do you know?'), 'x');
    await userEvent.type(screen.getByLabelText(/what it gave/), 'P-9');
    await userEvent.click(screen.getByRole('button', { name: 'It happened' }));
    expect(settle).not.toHaveBeenCalled();
    expect(screen.getByText(/as JSON\./)).toBeInTheDocument();
  });

  it('keeps what was written when the service refuses', async () => {
    settle.mockRejectedValueOnce(new ApiError(409, 'Already settled', 'Somebody was faster.'));
    render(Doubt, { run: RUN, onChanged });
    await userEvent.type(screen.getByLabelText('How do you know?'), 'Asked.');
    await userEvent.click(screen.getByRole('button', { name: /It did not/ }));
    expect(await screen.findByText('Already settled')).toBeInTheDocument();
    expect(screen.getByLabelText('How do you know?')).toHaveValue('Asked.');
    expect(onChanged).not.toHaveBeenCalled();
  });

  it('is not there when nothing is in doubt', () => {
    render(Doubt, { run: { id: 'R-2' } as Run, onChanged });
    expect(screen.queryByText('Did this happen?')).not.toBeInTheDocument();
  });
});
