<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import { bytes, count, duration } from '../../lib/format'
import { say } from '../../lib/say'

/** What a choice brings: messages, files, the time it takes; and whether it fits. */
const props = defineProps<{ sum: Schemas['ScopeSum']; tag: string; stale: boolean; trial: boolean }>()
/** Share of the free space that it takes. */
const share = computed(() =>
  props.sum.free_bytes === null ? 0 : Math.min(1, props.sum.needed_bytes / Math.max(1, props.sum.free_bytes)),
)
</script>

<template>
  <div class="sum" :class="{ stale }" role="status">
    <p class="lead">
      <b>{{ say('scope.messages', { count: sum.messages }) }}</b>
      <span class="n">{{ say('scope.files', { size: bytes(sum.bytes) }) }}</span>
      <span class="soft">{{
        sum.seconds === null ? say('scope.takes_unknown') : say('scope.takes', { time: duration(sum.seconds) })
      }}</span>
    </p>
    <p v-if="trial" class="left">{{ say('scope.later', { count: sum.left_out }) }}</p>
    <p v-else-if="sum.left_out > 0 || sum.without_file > 0" class="left">
      {{ say('scope.left', { count: sum.left_out, files: sum.without_file }) }}
    </p>
    <p v-else class="soft">{{ say('scope.all') }}</p>
    <div class="space" :class="{ short: sum.fits === false }">
      <div class="bar" aria-hidden="true"><i :style="{ width: `${share * 100}%` }" /></div>
      <p v-if="sum.free_bytes === null" class="small">{{ say('scope.space_unseen', { tag }) }}</p>
      <p v-else-if="sum.fits" class="small soft">
        {{ say('scope.fits', { tag, needed: bytes(sum.needed_bytes), free: bytes(sum.free_bytes) }) }}
      </p>
      <p v-else role="alert">
        <b>{{
          say('scope.short', {
            tag,
            needed: bytes(sum.needed_bytes),
            free: bytes(sum.free_bytes),
            lacking: bytes(sum.needed_bytes - sum.free_bytes),
          })
        }}</b>
      </p>
    </div>
    <span class="sr">{{ count(sum.messages) }}</span>
  </div>
</template>

<style scoped>
.sum {
  display: grid;
  gap: 2px;
}
.stale {
  opacity: 0.55;
}
.lead {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 0 var(--gap-3);
  font-size: var(--t-lead);
}
.left {
  color: var(--left_out);
  font-weight: 600;
}
.bar {
  height: 8px;
  background: var(--sunk);
  border: 1px solid var(--line);
  margin: 4px 0;
}
.bar i {
  display: block;
  height: 100%;
  background: var(--receives);
}
.short .bar i {
  background: repeating-linear-gradient(45deg, var(--missing) 0 6px, transparent 6px 10px);
}
.short p {
  color: var(--missing);
}
</style>
