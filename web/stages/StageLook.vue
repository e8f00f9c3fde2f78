<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '../api/client'
import { useAskForRun } from '../api/queries'
import BackupFacts from '../components/BackupFacts.vue'
import ConversationTable from '../components/ConversationTable.vue'

const props = defineProps<{ tray: Schemas['Tray'] }>()
const number = computed(() => props.tray.number)
const ask = useAskForRun(number)
const target = computed(() => props.tray.phones.find((p) => p.role === 'receives')?.live.platform)
const isNow = computed(() => props.tray.stage === 'look')
const find = ref('')
</script>

<template>
  <section class="panel">
    <template v-if="tray.backup">
      <header class="top">
        <BackupFacts :backup="tray.backup" />
        <v-btn v-if="isNow" class="next" :loading="ask.isPending.value" @click="ask.mutate({ kind: 'conversion' })"
          >Convert for {{ target === 'ios' ? 'iOS' : 'Android' }}</v-btn
        >
      </header>
      <p v-if="ask.error.value" class="trouble" role="alert">{{ ask.error.value.message }}</p>
      <div class="sheet">
        <div class="find">
          <h2>Conversations</h2>
          <v-text-field v-model="find" label="Find by title" clearable />
        </div>
        <ConversationTable :number="tray.number" :find="find ?? ''" />
      </div>
    </template>
    <p v-else class="sheet pad soft">There is nothing to look at before the backup is taken.</p>
  </section>
</template>

<style scoped>
.find {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: var(--gap-4);
  padding: var(--gap-3) var(--gap-4);
}
.find .v-text-field {
  max-width: 260px;
}
</style>
