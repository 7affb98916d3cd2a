<script lang="ts">
  import type { ApprovalSheet } from '../api/client';
  import CallInputs from '../parts/call-inputs.svelte';

  let {
    call,
    why,
    currency,
    caseId,
  }: { call: NonNullable<ApprovalSheet['sheet']['call']>; why: string; currency: string; caseId: string } = $props();

  const EFFECTS = { read: 'reads only', write: 'changes something outside', once: 'changes something outside, and can’t be repeated' };
</script>

<section class="sheet p-4" aria-labelledby="will-happen">
  <h2 id="will-happen" class="mb-1">What exactly will happen</h2>
  <p class="mb-3">
    <span class="font-mono">{call.tool}</span> <span class="text-faint">({EFFECTS[call.effect ?? 'once']})</span><br />
    {call.description}
  </p>
  <CallInputs {call} {caseId} {currency} />
  <p class="mt-3 text-sm text-faint">Asked because {why}.</p>
</section>
