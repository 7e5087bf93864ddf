<script lang="ts">
  import { goto } from '$app/navigation';

  void goto('/wall', { replaceState: true });
</script>
