import { render, screen } from '@testing-library/svelte';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import { api, type ApprovalSheet } from '../api/client';
import AnswerForm from './answer-form.svelte';
import { Decision } from './decision.svelte';

const SHEET = {
  summary: { id: 'R-1-6', state: 'open', asked: true },
  digest: 'd1',
  sheet: {},
  answers: [],
  maySendLate: false,
  confirm: 'fares.refund: amount 42.50 EUR; for <b>Ines</b>',
  follows: {
    yes: 'The call is made at once.',
    no: 'People take the case over; nothing is sent.',
    silence: 'It stays open until somebody answers.',
  },
} as unknown as ApprovalSheet;

describe('the answer to an approval', () => {
  it('says what follows each answer and silence', () => {
    const decision = new Decision();
    decision.take(SHEET);
    render(AnswerForm, { decision, onDecline: vi.fn(), onSendBack: vi.fn() });
    expect(screen.getByLabelText('What follows')).toHaveTextContent('Without an answer It stays open until somebody answers.');
  });

  it('says amount and person once more before a call, as words, and only then approves', async () => {
    const answer = vi.spyOn(api, 'answer').mockResolvedValue(SHEET);
    const decision = new Decision();
    decision.take(SHEET);
    render(AnswerForm, { decision, onDecline: vi.fn(), onSendBack: vi.fn() });
    await userEvent.click(screen.getByRole('button', { name: /^Approve/ }));
    expect(answer).not.toHaveBeenCalled();
    expect(screen.getByRole('alertdialog')).toHaveTextContent('amount 42.50 EUR; for <b>Ines</b>');
    await userEvent.click(screen.getByRole('button', { name: 'Yes, do it' }));
    expect(answer).toHaveBeenCalledOnce();
  });
});
