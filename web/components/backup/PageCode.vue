<script setup lang="ts">
import { useComparePage } from '../../api/copies'
import { say } from '../../lib/say'
import CheckCode from './CheckCode.vue'

/** Of a page of a conversation that was taken from a backup. */
const props = defineProps<{ backup: string }>()
const compare = useComparePage(() => props.backup)
</script>

<template>
  <CheckCode :title="say('paper_code.title')" :label="say('paper_code.label')" :compare="compare">
    <template v-if="compare.data.value?.sha256">
      <p class="soft">{{ say('paper_code.hold') }}</p>
      <p class="sum">{{ say('paper_code.hash', { sha256: compare.data.value.sha256 }) }}</p>
    </template>
  </CheckCode>
</template>

<style scoped>
.sum {
  overflow-wrap: anywhere;
}
</style>
