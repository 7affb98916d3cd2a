<script lang="ts">
  import { route } from '../router';
  import Reading from './reading.svelte';

  let name = $state('');

  /** A document of a case, at the place of a value that was found in it. */
  const params = $derived(route.params as { id: string; document: string });
  const search = $derived(new URLSearchParams((route.pathname, location.search)));
  const place = $derived([search.get('sheet'), search.get('at')].filter(Boolean).join(', '));
</script>

<svelte:head><title>{name || 'A document'} of {params.id} · Servitor</title></svelte:head>

<p class="text-faint"><a href="/cases/{params.id}">{params.id}</a> / a document</p>
<h1 class="mb-1">{name || 'A document'}{place ? `, ${place}` : ''}</h1>
<p class="mb-4"><a href="/api/cases/{params.id}/documents/{params.document}" download>Save it as it came</a></p>
<section class="sheet p-4">
  {#key params.document}
    <Reading
      caseId={params.id}
      documentId={params.document}
      sheet={search.get('sheet') ?? ''}
      at={search.get('at') ?? ''}
      words={search.get('words') ?? ''}
      onRead={(shown) => (name = shown.name)}
    />
  {/key}
</section>
