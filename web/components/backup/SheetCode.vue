<script setup lang="ts">
import type { Schemas } from '../../api/client'
import { useCompareSheet } from '../../api/keeping'
import { say } from '../../lib/say'
import CheckCode from './CheckCode.vue'

/** Of a hand-over sheet. */
const props = defineProps<{ tray: Schemas['Tray'] }>()
const compare = useCompareSheet(() => props.tray.number)
</script>

<template>
  <CheckCode :title="say('sheet_code.title')" :label="say('sheet_code.label')" :compare="compare">
    <template v-if="(compare.data.value?.sums ?? []).length > 0">
      <p class="soft">{{ say('sheet_code.hold') }}</p>
      <ul>
        <li v-for="one in compare.data.value?.sums" :key="one">{{ one }}</li>
      </ul>
    </template>
  </CheckCode>
</template>
