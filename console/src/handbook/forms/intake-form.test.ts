import { render, screen } from '@testing-library/svelte';
import userEvent from '@testing-library/user-event';
import { expect, it, vi } from 'vitest';
import { parse } from 'yaml';
import IntakeForm from './intake-form.svelte';
import { formFor, YamlFile } from './yaml-file';

const TEXT = 'title: Orders\nfrom: webhook\nkind: refund\nmessage: { id: text }\nsubject: "${message.id}"\nfields: {}\n';

it('is the form of intake files', () => {
  expect(formFor('intake/orders.yaml')).toBe('intake');
  expect(formFor('intake/orders.openapi.yaml')).toBeUndefined();
});

it('writes what is added and taken out into the same file', async () => {
  const outline = { kinds: ['refund', 'complaint'] } as never;
  const onChange = vi.fn((text: string) => void rerender({ file: new YamlFile(text) })); // as the pane does
  const { rerender } = render(IntakeForm, { file: new YamlFile(TEXT), outline, onChange });
  await userEvent.type(screen.getByLabelText('Another part of the message'), 'Booking Number');
  await userEvent.tab();
  await userEvent.click(screen.getAllByRole('button', { name: 'Add' })[0]!);
  expect(parse(onChange.mock.lastCall![0])).toMatchObject({ message: { id: 'text', booking_number: 'text' } });
  await userEvent.click(screen.getByRole('button', { name: 'take id out' }));
  expect((parse(onChange.mock.lastCall![0]) as { message: object }).message).toEqual({ booking_number: 'text' });
});

it('asks of mails where they are, and not what they hold', () => {
  const text = 'title: Lost\nfrom: mail\nconnection: mailbox\nkind: refund\nfields: {}\n';
  render(IntakeForm, { file: new YamlFile(text), outline: { kinds: ['refund'] } as never, onChange: vi.fn() });
  expect((screen.getByLabelText('Connection') as HTMLInputElement).value).toBe('mailbox');
  expect(screen.queryByLabelText('Another part of the message')).toBeNull();
  expect(screen.queryByLabelText('The same message when this is the same')).toBeNull();
});

it('asks of a schedule when, and of lines what is read of them', async () => {
  const schedule = 'title: Round\nfrom: schedule\ncron: "0 6 * * *"\nkind: refund\nrequester: teun\nsubject: S\n';
  const { unmount } = render(IntakeForm, { file: new YamlFile(schedule), outline: { kinds: ['refund'] } as never, onChange: vi.fn() });
  expect((screen.getByLabelText(/^Minute, hour/) as HTMLInputElement).value).toBe('0 6 * * *');
  expect(screen.queryByLabelText('Signed by the connection')).toBeNull();
  expect(screen.queryByLabelText('Another part of the message')).toBeNull();
  unmount();
  const lines = "title: Log\nfrom: lines\npattern: 'ERROR (?P<what>.*)'\nkind: refund\nsubject: S\n";
  render(IntakeForm, { file: new YamlFile(lines), outline: { kinds: ['refund'] } as never, onChange: vi.fn() });
  expect((screen.getByLabelText('What is read of a line of text') as HTMLInputElement).value).toBe('ERROR (?P<what>.*)');
  expect(screen.queryByLabelText('Another part of the message')).toBeNull();
  expect(screen.queryByLabelText('The same message when this is the same')).toBeNull();
});

it('says which open case a message belongs to, and what it is related to', async () => {
  const onChange = vi.fn((text: string) => void rerender({ file: new YamlFile(text) }));
  const { rerender } = render(IntakeForm, { file: new YamlFile(TEXT), outline: { kinds: ['refund'] } as never, onChange });
  await userEvent.type(screen.getByLabelText('An open case of the kind of which this holds'), 'case.fields.id == message.id');
  await userEvent.tab();
  expect(parse(onChange.mock.lastCall![0])).toMatchObject({ 'belongs-to': 'case.fields.id == message.id' });
  await userEvent.type(screen.getByLabelText('Another thing it is related to'), 'item');
  await userEvent.tab();
  await userEvent.click(screen.getAllByRole('button', { name: 'Add' })[2]!);
  expect(parse(onChange.mock.lastCall![0])).toMatchObject({ relations: { item: '${message.id}' } });
});
