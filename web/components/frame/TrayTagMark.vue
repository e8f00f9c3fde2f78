<script setup lang="ts">
import { computed } from 'vue'

/** A tray's number on a cloakroom tag. The shape of its left side says what it waits for. */
const props = defineProps<{ number: number; waits: 'person' | 'machine' | 'nobody'; size?: 'small' | 'large' }>()
/** A shop gets to its thousandth tray: a long number is written smaller, so that none of it is cut. */
const letters = computed(() => ({ '--digits': Math.max(3, String(props.number).length) }))
</script>

<template>
  <span class="tag" :class="[waits, size ?? 'large']">
    <svg class="hole" viewBox="0 0 10 10" aria-hidden="true">
      <path v-if="waits === 'person'" d="M5 0.500 10 9.500H0z" />
      <circle v-else-if="waits === 'machine'" cx="5" cy="5" r="4.500" />
      <path v-else d="M0 5.500 1.500 4l2 2L8.500 1 10 2.500 3.500 9z" />
    </svg>
    <span class="number slab" :style="letters">{{ number }}</span>
  </span>
</template>

<style scoped>
.tag {
  display: inline-flex;
  align-items: center;
  gap: 8px;
  background: var(--sunk);
  color: var(--ink);
  clip-path: polygon(12px 0, 100% 0, 100% 100%, 12px 100%, 0 72%, 0 28%);
  padding: 0 14px 0 10px;
  height: 60px;
  min-width: 92px;
}
.number {
  font-size: calc(var(--t-number) * 3 / var(--digits));
  font-weight: 700;
  line-height: 1;
}
.hole {
  flex: none;
  width: 11px;
  height: 11px;
  fill: var(--soft);
}
.person {
  background: var(--ribbon);
  color: var(--on-ribbon);
}
.person .hole {
  fill: var(--on-ribbon);
}
.nobody {
  color: var(--soft);
}
.small {
  height: 28px;
  min-width: 0;
  padding: 0 9px 0 7px;
  gap: 5px;
  clip-path: polygon(7px 0, 100% 0, 100% 100%, 7px 100%, 0 72%, 0 28%);
}
.small .number {
  font-size: 1.0625rem;
}
.small .hole {
  width: 8px;
  height: 8px;
}
</style>
