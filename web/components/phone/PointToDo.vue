<script setup lang="ts">
import type { Schemas } from '../../api/client'
import { say } from '../../lib/say'
import GuideSteps from './GuideSteps.vue'

/** What is to be done next on a phone, large: by whom, and the way there. */
defineProps<{ tag: string; point: Schemas['Point'] }>()
</script>

<template>
  <div class="sheet pad do">
    <p class="soft">
      {{ say('ready.now_do', { tag }) }} · {{ point.who === 'owner' ? say('ready.owner') : say('ready.technician')
      }}<template v-if="point.severity === 'warns'"> · {{ say('ready.better') }}</template>
    </p>
    <template v-if="point.guide">
      <p class="title">{{ point.what }}</p>
      <GuideSteps :steps="point.guide" :about="`${tag}: ${point.what}`" />
    </template>
    <p v-else class="large">{{ point.how ?? point.what }}</p>
  </div>
</template>

<style scoped>
.do {
  border-left: 5px solid var(--ribbon);
  display: grid;
  gap: var(--gap-2);
}
.title {
  font-size: var(--t-lead);
  font-weight: 650;
}
.large {
  font-size: var(--t-head);
  line-height: 1.3;
  max-width: 44ch;
}
</style>
