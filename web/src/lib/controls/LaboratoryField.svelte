<script lang="ts">
  import { useInbox } from '../api/queries';

  interface Props {
    value: string;
    readonly?: boolean;
  }
  let { value = $bindable(), readonly = false }: Props = $props();

  const inbox = useInbox();
  const id = $props.id();
</script>

<label
  >Laboratory
  <input class="field" list="{id}-labs" required maxlength="60" {readonly} bind:value /></label
>
<datalist id="{id}-labs"
  >{#each inbox.data?.laboratories ?? [] as l (l)}<option value={l}></option>{/each}</datalist
>
