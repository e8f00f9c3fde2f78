<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '../../api/client'
import { useForgetPlan, usePlan } from '../../api/standin'
import { say, word } from '../../lib/say'

/** What is to happen to a stand-in phone while nobody looks. */
const props = defineProps<{ phone: Schemas['Standin'] }>()
const serial = computed(() => props.phone.serial)
const fault = ref<Schemas['Fault']>('unplug')
const when = ref('copying 40')
const faults = (['unplug', 'lock', 'restart', 'drain', 'withdraw', 'fill'] as const).map((value) => ({
  value,
  title: word('fault', value),
}))
const moments = [
  ...[10, 40, 80].map((n) => ({ value: `copying ${n}`, title: say('desk.mishap_copying', { n }) })),
  ...[0, 2, 10].map((n) => ({ value: `minutes ${n}`, title: say('desk.mishap_minutes', { n }) })),
]
const plan = usePlan(serial)
const forget = useForgetPlan(serial)
function make(): void {
  const [how, amount] = when.value.split(' ')
  plan.mutate({ fault: fault.value, when: how === 'minutes' ? 'minutes' : 'copying', amount: Number(amount) })
}
</script>

<template>
  <details class="plan">
    <summary>{{ say('desk.mishap') }}</summary>
    <form @submit.prevent="make">
      <v-select v-model="fault" :items="faults" :label="say('desk.mishap_what')" />
      <v-select v-model="when" :items="moments" :label="say('desk.mishap_when')" />
      <v-btn size="small" type="submit" :loading="plan.isPending.value">{{ say('desk.mishap_do') }}</v-btn>
    </form>
    <p v-if="plan.error.value" class="trouble" role="alert">{{ plan.error.value.message }}</p>
  </details>
  <ul v-if="phone.planned.length > 0" class="small planned">
    <li v-for="(one, place) in phone.planned" :key="place">{{ one }}</li>
  </ul>
  <v-btn
    v-if="phone.planned.length > 0"
    size="small"
    :loading="forget.isPending.value"
    @click="forget.mutate(undefined)"
    >{{ say('desk.mishap_forget') }}</v-btn
  >
</template>

<style scoped>
.plan {
  width: 100%;
}
.plan summary {
  min-height: 28px;
  cursor: pointer;
}
.plan form {
  display: grid;
  gap: 8px;
  justify-items: start;
  padding-top: 6px;
}
.plan .v-select {
  width: 100%;
  max-width: 260px;
}
.planned {
  margin: 0;
  padding-left: 1.2em;
}
</style>
