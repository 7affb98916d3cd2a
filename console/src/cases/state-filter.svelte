<script lang="ts">
  import { Select } from 'bits-ui';

  let { value = $bindable('') }: { value?: string } = $props();

  const STATES = [
    { value: '', label: 'every state' },
    { value: 'working', label: 'working' },
    { value: 'waiting', label: 'waiting' },
    { value: 'with-people', label: 'with people' },
    { value: 'late', label: 'late' },
    { value: 'resolved', label: 'resolved' },
    { value: 'closed', label: 'closed' },
  ];
</script>

<Select.Root type="single" bind:value items={STATES}>
  <Select.Trigger class="field w-40 cursor-pointer text-left" aria-label="State">
    {STATES.find((state) => state.value === value)?.label}
    <span aria-hidden="true" class="float-right">▾</span>
  </Select.Trigger>
  <Select.Portal>
    <Select.Content class="sheet z-10 w-40 py-1 shadow-md" sideOffset={4}>
      {#each STATES as state (state.value)}
        <Select.Item value={state.value} label={state.label} class="cursor-pointer px-3 py-1 data-highlighted:bg-accent-soft"
          >{state.label}</Select.Item
        >
      {/each}
    </Select.Content>
  </Select.Portal>
</Select.Root>
