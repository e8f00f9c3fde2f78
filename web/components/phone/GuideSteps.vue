<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { Schemas } from '../../api/client'
import { say } from '../../lib/say'
import PhonePicture from './PhonePicture.vue'

/** The way to a setting, large, a step at a time: read over the customer's shoulder. */
const props = defineProps<{ steps: Schemas['GuideStep'][]; about: string }>()
const at = ref(0)
const step = computed(() => props.steps[Math.min(at.value, props.steps.length - 1)])
const isLast = computed(() => at.value >= props.steps.length - 1)
/** Another point begins at its beginning. */
watch(
  () => props.about,
  () => (at.value = 0),
)
</script>

<template>
  <div v-if="step" class="guide" role="group" :aria-label="say('guide.label', { what: about })">
    <PhonePicture :picture="step.picture" />
    <div class="words">
      <p class="soft" aria-live="polite">{{ say('guide.step', { at: at + 1, of: steps.length }) }}</p>
      <p class="large">{{ step.say }}</p>
      <div class="buttons">
        <v-btn :disabled="at === 0" @click="at--">{{ say('guide.back') }}</v-btn>
        <v-btn v-if="!isLast" @click="at++">{{ say('guide.next') }}</v-btn>
        <p v-else class="soft">{{ say('guide.sees') }}</p>
      </div>
    </div>
  </div>
</template>

<style scoped>
.guide {
  display: flex;
  gap: var(--gap-6);
  align-items: stretch;
}
.words {
  flex: 1;
  min-width: 0;
  display: flex;
  flex-direction: column;
  gap: var(--gap-2);
}
.large {
  font-size: var(--t-head);
  line-height: 1.3;
  max-width: 34ch;
  flex: 1;
}
.buttons {
  display: flex;
  gap: var(--gap-3);
  align-items: center;
}
</style>
