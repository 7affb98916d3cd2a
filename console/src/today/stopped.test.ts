import { render, screen } from '@testing-library/svelte';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import { api, type Stop, ApiError } from '../api/client';
import Stopped from './stopped.svelte';

const stop = (mayLift: boolean): Stop => ({
  what: 'tool',
  name: 'fares.refund',
  reason: '<i>pays twice</i>',
  by: { id: 'maren', name: 'Maren', sort: 'person' },
  at: '2026-06-01T10:00:00Z',
  mayLift,
});

describe('what people have stopped', () => {
  it('is said with the reason, as words', () => {
    render(Stopped, { stops: [stop(false)], onChanged: vi.fn() });
    expect(screen.getByText(/<i>pays twice<\/i>/)).toBeInTheDocument();
    expect(screen.queryByRole('button')).toBeNull();
  });

  it('goes on with words that say why, and shows what the service refuses', async () => {
    const lift = vi
      .spyOn(api, 'liftStop')
      .mockRejectedValueOnce(new ApiError(403, 'Not allowed', 'No.'))
      .mockResolvedValue([]);
    const onChanged = vi.fn();
    render(Stopped, { stops: [stop(true)], onChanged });
    await userEvent.click(screen.getByRole('button', { name: 'Let it go on' }));
    expect(screen.getByRole('button', { name: 'Let it go on' })).toBeDisabled();
    await userEvent.type(screen.getByLabelText('What has been mended?'), 'Paid back.');
    await userEvent.click(screen.getByRole('button', { name: 'Let it go on' }));
    expect(screen.getByRole('alert')).toHaveTextContent('No.');
    expect(onChanged).not.toHaveBeenCalled();
    await userEvent.click(screen.getByRole('button', { name: 'Let it go on' }));
    expect(lift).toHaveBeenLastCalledWith('tool', 'fares.refund', 'Paid back.');
    expect(onChanged).toHaveBeenCalledOnce();
  });
});
