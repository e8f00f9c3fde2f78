<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '../api/client'
import { useAskForRun, useReadiness, useSealedBackup } from '../api/queries'
import EvidenceList from '../components/EvidenceList.vue'
import KeyField from '../components/KeyField.vue'
import RoleMark from '../components/RoleMark.vue'
import { phoneNumber } from '../lib/format'

const props = defineProps<{ tray: Schemas['Tray'] }>()
const number = computed(() => props.tray.number)
const readiness = useReadiness(number, ref(true))
const ask = useAskForRun(number)
const phones = computed(() => [...(readiness.data.value ?? [])].sort((a) => (a.role === 'gives' ? -1 : 1)))
const left = computed(() => phones.value.flatMap((p) => p.checks).filter((c) => c.status !== 'ready').length)
const giving = computed(() => phones.value.find((p) => p.role === 'gives'))
const key = ref('')
const sealed = useSealedBackup(computed(() => props.tray))
const isNow = computed(() => props.tray.stage === 'ready')
const readable = (text: string): string => text.replace(/\+\d{7,15}/g, phoneNumber)
const marks = { ready: '✓', to_do: '!', unseen: '?' }
const words = { ready: 'ready', to_do: 'to do', unseen: 'can’t be seen yet' }
</script>

<template>
  <section class="panel">
    <header class="top">
      <div>
        <h2>
          {{
            left === 0 && phones.length > 0
              ? 'Both phones are ready'
              : `${left} ${left === 1 ? 'point' : 'points'} to go`
          }}
        </h2>
        <p class="soft">Looked at all the time; a point turns ready by itself when it is done on the phone.</p>
      </div>
      <v-btn
        v-if="isNow"
        class="next"
        :disabled="left > 0 || phones.length === 0 || (sealed !== null && key.trim() === '')"
        :loading="ask.isPending.value"
        @click="ask.mutate({ kind: 'backup', ...(sealed ? { key } : {}) }, { onSuccess: () => (key = '') })"
        >Back up {{ giving?.tag }}</v-btn
      >
    </header>
    <p v-if="ask.error.value" class="trouble" role="alert">{{ ask.error.value.message }}</p>
    <KeyField v-if="isNow && sealed" v-model="key" :tag="giving?.tag ?? ''" :sealed="sealed" />
    <p v-if="readiness.isPending.value" class="soft" role="status">Looking at the phones…</p>
    <div class="phones">
      <article v-for="phone in phones" :key="phone.tag" class="sheet phone" :aria-label="`Phone ${phone.tag}`">
        <header>
          <b class="slab tag">{{ phone.tag }}</b><RoleMark :role="phone.role" />
        </header>
        <ul>
          <li v-for="check in phone.checks" :key="check.id" :class="check.status">
            <span class="mark" aria-hidden="true">{{ marks[check.status] }}</span>
            <span>
              <span class="what"
                >{{ readable(check.what) }}<span class="sr">: {{ words[check.status] }}</span></span
              >
              <span v-if="check.status === 'to_do'" class="how">{{ readable(check.how ?? '') }}</span>
            </span>
          </li>
        </ul>
      </article>
    </div>
    <EvidenceList :tray="tray" stage="ready" />
  </section>
</template>

<style scoped>
.phones {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: var(--gap-4);
  align-items: start;
}
.phone {
  padding: var(--gap-3) var(--gap-4);
}
.phone header {
  display: flex;
  justify-content: space-between;
  align-items: center;
  padding-bottom: 6px;
  border-bottom: 1px solid var(--sunk);
}
.tag {
  font-size: 1.25rem;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 24px 1fr;
  gap: 8px;
  padding: 6px 0;
}
.mark {
  width: 22px;
  height: 22px;
  display: grid;
  place-items: center;
  font-weight: 700;
  font-size: var(--t-small);
  border: 2px solid var(--line);
  color: var(--soft);
}
.ready .mark {
  border-color: var(--arrived);
  color: var(--arrived);
}
.to_do .mark {
  background: var(--missing);
  border-color: var(--missing);
  color: var(--surface);
  border-radius: 50%;
}
.unseen .mark {
  border-style: dashed;
}
.to_do .what {
  font-weight: 650;
}
.unseen .what {
  color: var(--soft);
}
.how {
  display: block;
}
</style>
