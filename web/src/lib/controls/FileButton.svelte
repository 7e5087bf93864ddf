<!-- A button that chooses files, in place of the browser's own field. What was chosen is named behind
     it, unless the page shows it itself. -->
<script lang="ts">
  interface Props {
    label: string;
    accept: string;
    /** What is shown while it works, in place of the label. */
    words?: string;
    many?: boolean;
    camera?: boolean;
    disabled?: boolean;
    plain?: boolean;
    /** The names of what was chosen, where they are to be shown here. */
    chosen?: readonly string[];
    take: (files: File[]) => void;
  }
  const {
    label,
    accept,
    words = label,
    many = false,
    camera = false,
    disabled = false,
    plain = false,
    chosen = [],
    take,
  }: Props = $props();
</script>

<span class="choose"
  ><label class={plain ? 'plain' : 'press'} class:off={disabled}
    >{words}<input
      class="sr-only"
      type="file"
      aria-label={label}
      {accept}
      multiple={many}
      capture={camera ? 'environment' : undefined}
      {disabled}
      onchange={(e) => {
        // Emptied, so that the same file can be chosen again.
        const files = [...(e.currentTarget.files ?? [])];
        e.currentTarget.value = '';
        take(files);
      }}
    /></label
  >{#if chosen.length}<span class="muted" role="status">{chosen.join(', ')}</span>{/if}</span
>

<style>
  .choose {
    display: inline-flex;
    flex-wrap: wrap;
    gap: 4px 10px;
    align-items: center;
  }
  label {
    position: relative;
    display: inline-flex;
    align-items: center;
    color: var(--ink);
    font-size: inherit;
    cursor: pointer;
  }
  label:focus-within {
    outline: 3px solid var(--due);
  }
  @media (max-width: 900px) {
    .press {
      min-height: 44px;
    }
  }
  .off {
    opacity: 0.5;
    cursor: default;
  }
</style>
