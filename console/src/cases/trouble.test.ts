import { render, screen } from '@testing-library/svelte';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { api, type Run, ApiError } from '../api/client';
import { session } from '../shell/session.svelte';
import Trouble from './trouble.svelte';

const trouble = (what: 'failed' | 'stuck' | 'late') => ({
  id: 'R-1-at-3',
  what,
  step: 'Pay',
  problem: 'invalid',
  detail: '<b>refunded</b> already',
  at: '2026-06-01T10:00:00Z',
});
const RUN = { id: 'R-1' } as unknown as Run;

describe('something that went wrong', () => {
  const mend = vi.spyOn(api, 'mendRun');
  const onChanged = vi.fn();

  beforeEach(() => {
    vi.spyOn(session, 'is').mockReturnValue(true);
    mend.mockReset().mockResolvedValue(undefined as never);
    onChanged.mockReset();
  });

  it('is said with its step, problem and words, which stay words', () => {
    render(Trouble, { run: RUN, trouble: trouble('failed'), onChanged });
    expect(screen.getByText('invalid')).toBeInTheDocument();
    expect(screen.getByText(/<b>refunded<\/b> already/)).toBeInTheDocument();
    expect(screen.getByRole('button', { name: 'Try it again' })).toBeDisabled();
  });

  it('is tried again with a reason', async () => {
    render(Trouble, { run: RUN, trouble: trouble('stuck'), onChanged });
    expect(screen.queryByRole('button', { name: 'Skip the step' })).toBeNull();
    await userEvent.type(screen.getByLabelText(/and why/), 'It is back.');
    await userEvent.click(screen.getByRole('button', { name: 'Try it again' }));
    expect(mend).toHaveBeenCalledWith('R-1', 'R-1-at-3', { does: 'retry', reason: 'It is back.' });
    expect(onChanged).toHaveBeenCalledOnce();
  });

  it('is skipped with what the call would have given, and nothing unreadable is sent', async () => {
    render(Trouble, { run: RUN, trouble: trouble('failed'), onChanged });
    await userEvent.type(screen.getByLabelText(/and why/), 'Paid by hand.');
    await userEvent.type(screen.getByLabelText(/as JSON/), 'RF-1');
    await userEvent.click(screen.getByRole('button', { name: 'Skip the step' }));
    expect(mend).not.toHaveBeenCalled();
    await userEvent.clear(screen.getByLabelText(/as JSON/));
    await userEvent.type(screen.getByLabelText(/as JSON/), '{{"refund":"RF-1"}');
    await userEvent.click(screen.getByRole('button', { name: 'Skip the step' }));
    expect(mend).toHaveBeenCalledWith('R-1', 'R-1-at-3', { does: 'skip', reason: 'Paid by hand.', result: { refund: 'RF-1' } });
  });

  it('that came too late is only taken note of', async () => {
    mend.mockRejectedValueOnce(new ApiError(409, 'Seen already', 'Somebody has seen to it.'));
    render(Trouble, { run: RUN, trouble: trouble('late'), onChanged });
    expect(screen.queryByRole('button', { name: 'Try it again' })).toBeNull();
    await userEvent.type(screen.getByLabelText(/and why/), 'Noted.');
    await userEvent.click(screen.getByRole('button', { name: 'I have taken note' }));
    expect(screen.getByText('Somebody has seen to it.')).toBeInTheDocument();
    expect(onChanged).not.toHaveBeenCalled();
  });
});
