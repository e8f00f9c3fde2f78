<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '../../api/client'
import { useCableSpeed, useHands } from '../../api/standin'
import { phoneNumber } from '../../lib/format'
import { say } from '../../lib/say'
import { platformWord } from '../../lib/words'
import StandinPlan from './StandinPlan.vue'
import { vBeginHere } from '../../lib/focus'

/** One stand-in phone: its screen, and what the hands can do with it now. */
const props = defineProps<{ phone: Schemas['Standin'] }>()
const typed = ref('')
/** The act that waits for something that is typed. */
const asking = ref<string | null>(null)
const serial = computed(() => props.phone.serial)
const hands = useHands(serial)
const speed = useCableSpeed(serial)
function act(name: string): void {
  const done = name === asking.value ? { act: name, typed: typed.value } : { act: name }
  hands.mutate(done, {
    onSuccess: () => {
      asking.value = null
      typed.value = ''
    },
  })
}
const speeds = computed(() => [
  ...[0.5, 4, 40].map((n) => ({ value: n, title: say('desk.per_second', { n }) })),
  { value: 0, title: say('desk.unlimited') },
])

/** What the hands do, by what they reach for. */
const GROUPS = {
  answer: ['admit'],
  outside: ['plug', 'unplug', 'lock', 'unlock', 'restart', 'charge', 'drain', 'fill', 'tidy', 'sim_in', 'sim_out'],
  messengers: [
    'install',
    'register',
    'auto_backup_on',
    'auto_backup_off',
    'allow_storage',
    'message_comes',
    'open',
    'allow_contacts',
    'allow_photos',
    'ask_text',
    'ask_call',
    'enter_code',
    'enter_pin',
    'leave_sign_up',
    'pin_off',
    'decline_cloud',
    'take_cloud',
  ],
  backups: [
    'back_up_now',
    'back_up_without_videos',
    'lock_backups_password',
    'lock_backups_digits',
    'leave_backups_open',
  ],
} as const
function groupOf(name: string): keyof typeof GROUPS | 'settings' {
  const hand = name.split(' ')[0] ?? ''
  for (const group of ['answer', 'outside', 'messengers', 'backups'] as const)
    if ((GROUPS[group] as readonly string[]).includes(hand)) return group
  return 'settings'
}
const groups = computed(() =>
  [
    { name: 'answer', title: say('desk.answer') },
    { name: 'outside', title: say('desk.outside') },
    { name: 'settings', title: say('desk.settings') },
    { name: 'messengers', title: say('desk.messengers') },
    { name: 'backups', title: say('desk.backups') },
  ]
    .map((group) => ({ ...group, acts: props.phone.acts.filter((a) => groupOf(a.act) === group.name) }))
    .filter((group) => group.acts.length > 0),
)

/** What is typed, by the hand that types it. */
const TYPED = ['register', 'enter_code', 'enter_pin']
const what = computed(() => {
  const hand = asking.value?.split(' ')[0]
  if (hand === 'enter_code') return say('desk.code_typed')
  return hand === 'enter_pin' ? say('desk.pin') : say('desk.number')
})

function press(name: string): void {
  const hand = name.split(' ')[0] ?? ''
  if (TYPED.includes(hand) && asking.value !== name) {
    typed.value = ''
    asking.value = name
  } else act(name)
}
</script>

<template>
  <article class="phone" :aria-label="`${phone.maker} ${phone.model}`">
    <div class="slab-body">
      <div class="screen" :class="{ dark: !phone.unlocked }">
        <template v-if="!phone.unlocked"
          ><b>{{ say('desk.locked') }}</b
          ><span>{{ say('desk.code_needed') }}</span></template
        >
        <template v-else-if="phone.question"
          ><b>{{ phone.question }}</b
          ><span>{{ say('desk.waits') }}</span></template
        >
        <template v-else-if="phone.apps.length > 0">
          <template v-for="app in phone.apps" :key="app.app"
            ><b>{{ app.name }} {{ app.version }}</b
            ><span>{{ app.number ? phoneNumber(app.number) : say('phone.not_registered') }}</span></template
          >
        </template>
        <template v-else
          ><b>{{ say('desk.no_messenger') }}</b
          ><span>{{ say('desk.nothing') }}</span></template
        >
      </div>
      <div class="plug" :class="{ out: !phone.plugged }" aria-hidden="true"></div>
    </div>
    <div class="hands">
      <p>
        <b>{{ phone.maker }} {{ phone.model }}</b
        ><br /><span class="soft small">{{
          say('desk.about_phone', {
            system: `${platformWord(phone.platform)} ${phone.os_version}`,
            percent: phone.battery,
            plugged: String(phone.plugged),
          })
        }}</span>
      </p>
      <p v-for="code in phone.codes" :key="code" class="small" role="status">
        <b>{{ code }}</b>
      </p>
      <p v-for="pin in phone.pins" :key="pin" class="small">
        {{ say('desk.knows_pin') }} <b class="told">{{ pin }}</b>
      </p>
      <p v-for="key in phone.backup_keys" :key="key" class="small">
        {{ say('desk.backup_key') }} <b class="told">{{ key }}</b>
      </p>
      <div v-for="group in groups" :key="group.name" class="group" role="group" :aria-label="group.title">
        <span v-if="group.name !== 'answer'" class="soft small">{{ group.title }}</span>
        <v-btn
          v-for="a in group.acts"
          :key="a.act"
          size="small"
          :loading="hands.isPending.value && hands.variables.value?.act === a.act"
          @click="press(a.act)"
          >{{ a.label }}</v-btn
        >
      </div>
      <form v-if="asking" class="number" @submit.prevent="act(asking)">
        <v-text-field v-model="typed" v-begin-here :label="what" />
        <v-btn size="small" type="submit">{{ say('desk.enter') }}</v-btn>
      </form>
      <v-select
        :model-value="phone.megabytes_per_second"
        :items="speeds"
        :label="say('desk.speed')"
        @update:model-value="speed.mutate(Number($event))"
      />
      <StandinPlan :phone="phone" />
      <p v-if="hands.error.value" class="trouble" role="alert">{{ hands.error.value.message }}</p>
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
.group {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  width: 100%;
}
.group > span {
  width: 100%;
}
.number {
  display: grid;
  gap: 6px;
  width: 100%;
}
</style>
