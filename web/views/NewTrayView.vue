<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { useQueryClient } from '@tanstack/vue-query'
import { api, body, type Schemas } from '../api/client'
import { useBench } from '../api/queries'
import BenchPhone from '../components/BenchPhone.vue'
import RoleMark from '../components/RoleMark.vue'
import { date, many } from '../lib/format'

type Counts = NonNullable<Schemas['Holdings']['counts']>

const router = useRouter()
const client = useQueryClient()
const bench = useBench()
const customer = ref('')
const contact = ref('')
const consent = ref(false)
const giving = ref('')
const receiving = ref('')
const trouble = ref('')
const busy = ref(false)
const held = ref<Record<string, Counts | null>>({})

const free = computed(() => (bench.data.value ?? []).filter((p) => p.tray === null))
const taken = computed(() => (bench.data.value ?? []).filter((p) => p.tray !== null))
const isWhole = computed(
  () =>
    customer.value.trim() !== '' &&
    contact.value.trim() !== '' &&
    consent.value &&
    giving.value !== '' &&
    receiving.value !== '',
)

function give(serial: string): void {
  if (receiving.value === serial) receiving.value = giving.value
  giving.value = giving.value === serial ? '' : serial
}
function receive(serial: string): void {
  if (giving.value === serial) giving.value = receiving.value
  receiving.value = receiving.value === serial ? '' : serial
}

/** The direction as the data has it: said before anything is done. */
const warning = computed(() => {
  const [from, to] = [held.value[giving.value], held.value[receiving.value]]
  if (giving.value === '' || receiving.value === '') return ''
  if (from && from.messages === 0) return 'The phone that gives holds no chats. Are the roles swapped?'
  if (from && to && to.messages > from.messages)
    return `The phone that receives holds more than the one that gives: ${many(to.messages, 'message')}, newest ${date(to.newest_at)}. Are the roles swapped?`
  if (to && to.messages > 0)
    return `The phone that receives is not empty: it holds ${many(to.messages, 'message')}, newest ${date(to.newest_at)}. A restore would be refused.`
  return ''
})

watch(free, (phones) => {
  for (const serial of [giving.value, receiving.value]) {
    if (serial !== '' && !phones.some((p) => p.live.serial === serial)) {
      if (giving.value === serial) giving.value = ''
      if (receiving.value === serial) receiving.value = ''
    }
  }
})

async function open(): Promise<void> {
  busy.value = true
  trouble.value = ''
  try {
    const tray = await body(
      api.POST('/api/trays', {
        body: {
          customer: customer.value,
          contact: contact.value,
          consent: consent.value,
          giving: giving.value,
          receiving: receiving.value,
        },
      }),
    )
    await client.invalidateQueries({ queryKey: ['trays'] })
    await router.push(`/trays/${tray.number}`)
  } catch (error) {
    trouble.value = error instanceof Error ? error.message : 'The tray could not be opened.'
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <form class="intake" @submit.prevent="open">
    <section class="sheet pad who">
      <h1>New tray</h1>
      <v-text-field v-model="customer" label="Customer" autofocus maxlength="120" />
      <v-text-field
        v-model="contact"
        label="How to reach them"
        maxlength="120"
        hint="A number, an address, a table in the café"
      />
      <v-checkbox
        v-model="consent"
        label="The customer consents: their chats are read from the phone that gives and written to the phone that receives."
      />
      <div class="chosen">
        <p>
          <RoleMark role="gives" /> {{ free.find((p) => p.live.serial === giving)?.live.model ?? 'not chosen yet' }}
        </p>
        <p>
          <RoleMark role="receives" />
          {{ free.find((p) => p.live.serial === receiving)?.live.model ?? 'not chosen yet' }}
        </p>
      </div>
      <p v-if="warning" class="trouble" role="status">{{ warning }}</p>
      <p v-if="trouble" class="trouble" role="alert">{{ trouble }}</p>
      <v-btn class="next" type="submit" :disabled="!isWhole" :loading="busy">Open the tray</v-btn>
    </section>
    <section class="bench" aria-label="Phones on the bench">
      <h2>Phones on the bench</h2>
      <p v-if="bench.isPending.value" class="soft" role="status">Looking at the bench…</p>
      <p v-else-if="free.length === 0" class="sheet pad">
        No free phone is on the bench. Connect the customer’s phones, or hand over a tray that is done.
      </p>
      <BenchPhone
        v-for="phone in free"
        :key="phone.live.serial"
        :live="phone.live"
        :role="giving === phone.live.serial ? 'gives' : receiving === phone.live.serial ? 'receives' : null"
        @give="give(phone.live.serial)"
        @receive="receive(phone.live.serial)"
        @held="held[phone.live.serial] = $event"
      />
      <p v-if="taken.length > 0" class="soft small">
        In other trays:
        <template v-for="(phone, n) in taken" :key="phone.live.serial"
          >{{ n > 0 ? ', ' : '' }}{{ phone.live.model }} ({{ phone.tray }})</template
        >
      </p>
    </section>
  </form>
</template>

<style scoped>
.intake {
  max-width: 1280px;
  margin: 0 auto;
  padding: var(--gap-4) var(--gap-6);
  display: grid;
  grid-template-columns: 420px 1fr;
  gap: var(--gap-6);
  align-items: start;
}
.who {
  display: grid;
  gap: var(--gap-3);
  position: sticky;
  top: 68px;
}
.bench {
  display: grid;
  gap: var(--gap-2);
}
.chosen {
  display: grid;
  gap: 4px;
  border-top: 1px solid var(--sunk);
  padding-top: var(--gap-3);
}
.chosen p {
  display: flex;
  gap: 8px;
}
@media (max-width: 1060px) {
  .intake {
    grid-template-columns: 340px 1fr;
  }
}
</style>
