<script setup lang="ts">
import { computed, ref } from 'vue'
import { useMutation, useQueryClient } from '@tanstack/vue-query'
import { api, body, type Schemas } from '../api/client'
import { phoneNumber } from '../lib/format'

/** One stand-in phone: its screen, and what the hands can do with it now. */
const props = defineProps<{ phone: Schemas['Standin'] }>()
const client = useQueryClient()
const number = ref('')
const asksNumber = ref(false)
const params = computed(() => ({ params: { path: { serial: props.phone.serial } } }))
const refresh = () => client.invalidateQueries()
const act = useMutation({
  mutationFn: (name: string) =>
    body(
      api.POST('/api/standin/phones/{serial}/acts', {
        ...params.value,
        body: name === 'register' ? { act: name, number: number.value } : { act: name },
      }),
    ),
  onSuccess: () => {
    asksNumber.value = false
    return refresh()
  },
})
const speed = useMutation({
  mutationFn: (value: number) =>
    body(api.PUT('/api/standin/phones/{serial}/cable', { ...params.value, body: { megabytes_per_second: value } })),
  onSuccess: refresh,
})
const speeds = [
  { value: 0.5, title: '0.5 MB a second' },
  { value: 4, title: '4 MB a second' },
  { value: 40, title: '40 MB a second' },
  { value: 0, title: 'unlimited' },
]

function press(name: string): void {
  if (name === 'register' && !asksNumber.value) asksNumber.value = true
  else act.mutate(name)
}
</script>

<template>
  <article class="phone" :aria-label="`${phone.maker} ${phone.model}`">
    <div class="slab-body">
      <div class="screen" :class="{ dark: !phone.unlocked }">
        <template v-if="!phone.unlocked"><b>Locked</b><span>Screen code needed</span></template>
        <template v-else-if="phone.question"
          ><b>{{ phone.question }}</b
          ><span>The phone waits for an answer.</span></template
        >
        <template v-else-if="phone.messenger"
          ><b>{{ phone.messenger.name }} {{ phone.messenger.version }}</b
          ><span>{{ phone.messenger.number ? phoneNumber(phone.messenger.number) : 'not registered' }}</span></template
        >
        <template v-else><b>No messenger</b><span>Nothing is installed.</span></template>
      </div>
      <div class="plug" :class="{ out: !phone.plugged }" aria-hidden="true"></div>
    </div>
    <div class="hands">
      <p>
        <b>{{ phone.maker }} {{ phone.model }}</b
        ><br /><span class="soft small"
          >{{ phone.platform === 'ios' ? 'iOS' : 'Android' }} <bdi>{{ phone.os_version }}</bdi> · {{ phone.battery }} %
          · cable {{ phone.plugged ? 'in' : 'out' }}</span
        >
      </p>
      <p v-if="phone.backup_password" class="small">
        Its owner knows the password of the sealed backup: <b class="told">{{ phone.backup_password }}</b>
      </p>
      <v-btn
        v-for="a in phone.acts"
        :key="a.act"
        size="small"
        :loading="act.isPending.value && act.variables.value === a.act"
        @click="press(a.act)"
        >{{ a.label }}</v-btn
      >
      <form v-if="asksNumber" class="number" @submit.prevent="act.mutate('register')">
        <v-text-field v-model="number" label="Number, with +" autofocus />
        <v-btn size="small" type="submit">Register</v-btn>
      </form>
      <v-select
        :model-value="phone.megabytes_per_second"
        :items="speeds"
        label="Cable speed"
        @update:model-value="speed.mutate(Number($event))"
      />
      <p v-if="act.error.value" class="trouble" role="alert">{{ act.error.value.message }}</p>
    </div>
  </article>
</template>

<style scoped>
.phone {
  display: grid;
  grid-template-columns: 108px 1fr;
  gap: var(--gap-3);
  align-items: start;
}
.slab-body {
  border: 2px solid var(--soft);
  border-radius: 10px 10px 10px 26px;
  padding: 8px;
  background: var(--surface);
  position: relative;
  height: 200px;
}
.screen {
  height: 100%;
  background: var(--sunk);
  border-radius: 4px 4px 4px 18px;
  padding: 14px 9px;
  display: flex;
  flex-direction: column;
  gap: 6px;
  font-size: var(--t-small);
  line-height: 1.25;
}
.screen.dark {
  background: var(--ink);
  color: var(--background);
}
.plug {
  position: absolute;
  bottom: -16px;
  left: 50%;
  width: 10px;
  height: 14px;
  background: var(--soft);
}
.plug.out {
  background: transparent;
  border: 2px dashed var(--soft);
  bottom: -24px;
}
.hands {
  display: grid;
  gap: 6px;
  justify-items: start;
}
.hands .v-btn :deep(.v-btn__content) {
  white-space: normal;
}
.hands .v-btn {
  white-space: normal;
  height: auto !important;
  min-height: 30px;
  text-align: left;
  padding: 4px 10px;
  font-size: var(--t-small);
}
.hands .v-select {
  width: 100%;
  max-width: 190px;
  margin-top: 4px;
}
.number {
  display: grid;
  gap: 6px;
  width: 100%;
}
</style>
