import { render, screen } from '@testing-library/svelte';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { api, type Run } from '../api/client';
import Held from './held.svelte';

const RUN = {
  id: 'R-1',
  held: {
    tool: 'fares.pay-refund',
    says: 'pays 20 EUR for SK-1',
    inputs: { reference: 'SK-1', amount: 20 },
    answers: { properties: { refund: { type: 'string' }, amount: { type: 'number' } } },
  },
} as unknown as Run;

describe('a call that is held in shadow', () => {
  const done = vi.spyOn(api, 'doneByHand');
  const onChanged = vi.fn();

  beforeEach(() => {
    done.mockReset().mockResolvedValue(undefined as never);
    onChanged.mockReset();
  });

  it('takes no word without a reason', () => {
    render(Held, { run: RUN, onChanged });
    expect(screen.getByText(/pays 20 EUR for SK-1/)).toBeInTheDocument();
    expect(screen.getByRole('button', { name: 'I did just this' })).toBeDisabled();
    expect(screen.getByRole('button', { name: 'I did nothing of the kind' })).toBeDisabled();
  });

  it('says that it was done, with what it gave in its types', async () => {
    render(Held, { run: RUN, onChanged });
    await userEvent.type(screen.getByLabelText('refund'), '4711');
    await userEvent.type(screen.getByLabelText('Why so?'), 'The ship stayed in port.');
    await userEvent.click(screen.getByRole('button', { name: 'I did just this' }));
    expect(done).toHaveBeenCalledWith('R-1', {
      did: 'done',
      reason: 'The ship stayed in port.',
      inputs: { reference: 'SK-1', amount: 20 },
      result: { amount: 20, refund: '4711' },
    });
    expect(onChanged).toHaveBeenCalledOnce();
  });

  it('says that it was done otherwise', async () => {
    render(Held, { run: RUN, onChanged });
    const [amount] = screen.getAllByLabelText('amount');
    await userEvent.clear(amount!);
    await userEvent.type(amount!, '15.5');
    await userEvent.type(screen.getByLabelText('Why so?'), 'A part was used.');
    await userEvent.click(screen.getByRole('button', { name: /otherwise than proposed/ }));
    expect(done).toHaveBeenCalledWith('R-1', expect.objectContaining({ inputs: { reference: 'SK-1', amount: 15.5 } }));
  });

  it('says that nothing of the kind was done', async () => {
    render(Held, { run: RUN, onChanged });
    await userEvent.type(screen.getByLabelText('Why so?'), 'It sailed.');
    await userEvent.click(screen.getByRole('button', { name: 'I did nothing of the kind' }));
    expect(done).toHaveBeenCalledWith('R-1', { did: 'nothing', reason: 'It sailed.' });
  });
});
