<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import BackupFacts from '../components/BackupFacts.vue'
import EvidenceList from '../components/EvidenceList.vue'

const props = defineProps<{ tray: Schemas['Tray'] }>()
const giving = computed(() => props.tray.phones.find((p) => p.role === 'gives'))
</script>

<template>
  <section class="sheet pad panel">
    <h2>Backup of {{ giving?.tag }}</h2>
    <BackupFacts v-if="tray.backup" :backup="tray.backup" />
    <p v-else-if="tray.stage === 'back_up'">
      The database comes first, with what still sits in its write-ahead log, then the attachments. The phone is only
      read. If the cable comes out, the backup waits and goes on from there.
    </p>
    <p v-else class="soft">No backup yet. It is taken when both phones are ready.</p>
    <EvidenceList :tray="tray" stage="back_up" />
  </section>
</template>
