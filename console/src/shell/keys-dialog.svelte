<script lang="ts">
  import { Dialog } from 'bits-ui';

  let open = $state(false);

  const KEYS = [
    ['j, ↓', 'next in a list'],
    ['k, ↑', 'previous in a list'],
    ['Enter', 'open it'],
    ['/', 'search'],
    ['a', 'on a decision sheet: approve'],
    ['d', 'on a decision sheet: decline'],
    ['f', 'on a decision sheet: send it back'],
    ['e', 'on a decision sheet: edit the text'],
    ['n', 'on a decision sheet: the next one'],
    ['?', 'these keys'],
  ];

  function onKey(event: KeyboardEvent): void {
    if (event.key === '?' && !/^(INPUT|TEXTAREA|SELECT)$/.test((event.target as HTMLElement).tagName)) {
      open = !open;
    }
  }
</script>

<svelte:document onkeydown={onKey} />

<Dialog.Root bind:open>
  <Dialog.Trigger class="cursor-pointer text-sm text-faint underline decoration-dotted">keys</Dialog.Trigger>
  <Dialog.Portal>
    <Dialog.Overlay class="fixed inset-0 bg-ink/30" />
    <Dialog.Content class="sheet fixed top-1/4 left-1/2 w-80 -translate-x-1/2 p-5">
      <Dialog.Title class="mb-3 text-lg font-semibold">Keys</Dialog.Title>
      <dl class="grid grid-cols-[5rem_1fr] gap-y-1">
        {#each KEYS as [key, does] (key)}
          <dt class="font-mono">{key}</dt>
          <dd>{does}</dd>
        {/each}
      </dl>
      <Dialog.Close class="button mt-4">Close</Dialog.Close>
    </Dialog.Content>
  </Dialog.Portal>
</Dialog.Root>
