<script lang="ts">
  import { api, body, type Schemas } from '../api/client';

  interface Props {
    /** The engine whose page it is, and the one that stands beside it; "" for none. */
    engine: string;
    code: string;
    onchoose: (code: string) => void;
  }
  let { engine, code, onchoose }: Props = $props();
  let found = $state<Schemas['Found'][]>([]);

  async function look(text: string) {
    const answer = text.trim()
      ? await body(api.GET('/api/find', { params: { query: { q: text } } })).catch(() => [])
      : [];
    found = answer.filter((f) => f.kind === 'engine' && f.key !== engine);
  }
</script>

<label
  ><span class="muted">Beside</span>
  <input
    class="field"
    size="8"
    maxlength="60"
    placeholder="engine"
    autocomplete="off"
    list="beside-engines"
    value={code}
    oninput={(e) => void look(e.currentTarget.value)}
    onchange={(e) => onchoose(e.currentTarget.value.trim())}
  /></label
><datalist id="beside-engines"
  >{#each found as f (f.key)}<option value={f.key}>{f.name}</option>{/each}</datalist
>

<style>
  .field {
    width: 84px;
    padding: 2px 6px;
  }
</style>
