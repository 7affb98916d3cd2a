<script lang="ts">
  /** The state of a case or approval; only what needs a person carries the signal. */
  let { state, needsPerson = state === 'with-people' }: { state: string; needsPerson?: boolean } = $props();
</script>

<span
  class={[
    'inline-block rounded-sm text-sm whitespace-nowrap',
    needsPerson
      ? 'bg-signal-soft px-1.5 font-semibold text-signal'
      : state === 'working'
        ? 'bg-accent-soft px-1.5 text-accent'
        : 'text-faint',
  ]}>{state.replaceAll('-', ' ')}</span
>
