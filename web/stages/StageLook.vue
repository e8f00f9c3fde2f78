<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '../api/client'
import { useAskForRun } from '../api/queries'
import BackupFacts from '../components/BackupFacts.vue'
import ConversationTable from '../components/ConversationTable.vue'
import { say } from '../lib/say'
import { platformWord } from '../lib/words'

const props = defineProps<{ tray: Schemas['Tray']; move: Schemas['Move'] }>()
const at = computed(() => ({ number: props.tray.number, place: props.move.place }))
const ask = useAskForRun(at)
const target = computed(() => props.tray.phones.find((p) => p.role === 'receives')?.live.platform ?? 'android')
const isNow = computed(() => props.move.stage === 'look' && props.tray.errand === 'move')
const find = ref('')
function convert(): void {
  if (!ask.isPending.value) ask.mutate({ kind: 'conversion' })
}
</script>

<template>
  <section class="panel">
    <template v-if="move.backup">
      <header class="top">
        <BackupFacts :backup="move.backup" :current="move.restored_at === null" />
        <v-btn v-if="isNow" class="next" :loading="ask.isPending.value" @click="convert">{{
          say('look.convert', { platform: platformWord(target) })
        }}</v-btn>
      </header>
      <p v-if="ask.error.value" class="trouble" role="alert">{{ ask.error.value.message }}</p>
      <div class="sheet">
        <div class="find">
          <h2>{{ say('look.conversations') }}</h2>
          <v-text-field v-model="find" :label="say('app.find_title')" clearable />
        </div>
        <ConversationTable :at="at" :find="find ?? ''" />
      </div>
    </template>
    <p v-else class="sheet pad soft">{{ say('look.nothing') }}</p>
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
