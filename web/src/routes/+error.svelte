<script lang="ts">
  import { page } from '$app/state';
</script>

<main class="p-6">
  <h1>{page.status === 404 ? 'There is no such page' : 'This page could not be shown'}</h1>
  <p class="muted mt-2">Nothing was lost. <a href="/wall">Back to the Wall</a></p>
</main>
