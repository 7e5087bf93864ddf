<script lang="ts">
  import type { Detail } from './details';

  interface Props {
    wanted: readonly Detail[];
    details: Record<string, string>;
  }
  let { wanted, details = $bindable() }: Props = $props();

  const unit = (d: Detail) => (d.pressure ? details['pressure_unit'] || d.unit : d.unit);
  const set = (name: string, value: string) => (details = { ...details, [name]: value });
</script>

<div class="facts">
  {#each wanted as d (d.name)}
    <label
      >{d.words}{unit(d) ? `, ${unit(d)}` : ''}{d.many ? ', one after another' : ''}
      {#if d.choices}
        <select
          class="field"
          value={details[d.name] ?? ''}
          onchange={(e) => set(d.name, e.currentTarget.value)}
        >
          <option value="">not said</option>
          {#each d.choices as c (c.code)}<option value={c.code}>{c.words}</option>{/each}
        </select>
      {:else}
        <input
          class="field"
          inputmode={d.many ? 'text' : 'decimal'}
          maxlength="200"
          placeholder={d.many ? 'such as 28 27.5 26 28' : ''}
          value={details[d.name] ?? ''}
          oninput={(e) => set(d.name, e.currentTarget.value)}
        />
      {/if}
    </label>
  {/each}
</div>

<style>
  .facts {
    display: grid;
    grid-template-columns: repeat(auto-fit, minmax(150px, 1fr));
    gap: 8px;
    align-items: end;
  }
  label {
    display: grid;
    font-size: 13px;
    color: var(--muted);
  }
  .field {
    min-height: 44px;
  }
</style>
