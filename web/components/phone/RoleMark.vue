<script setup lang="ts">
import type { Schemas } from '../../api/client'
import { say } from '../../lib/say'

/** The mark of a role, the same wherever a phone appears: word, shape and colour. */
defineProps<{ role: Schemas['Role'] }>()
</script>

<template>
  <span class="role" :class="role">
    <svg viewBox="0 0 18 14" width="18" height="14" aria-hidden="true">
      <!-- gives: a ribbon's end leaving; receives: an open box -->
      <path v-if="role === 'gives'" d="M1 2h10l6 5-6 5H1l4-5z" />
      <path v-else d="M1 2h4v6h8V2h4v11H1z" />
    </svg>
    {{ say(`role.${role}`) }}
  </span>
</template>

<style scoped>
.role {
  display: inline-flex;
  align-items: center;
  gap: 5px;
  font-weight: 650;
  font-size: var(--t-small);
  white-space: nowrap;
}
.gives {
  color: var(--gives);
}
.receives {
  color: var(--receives);
}
svg {
  fill: currentcolor;
}
</style>
