<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { useQueryClient } from '@tanstack/vue-query'
import type { Schemas } from '../api/client'
import { useSession } from '../api/session'
import { openTray } from '../api/tray'
import { useBench } from '../api/shelf'
import BenchPhone from '../components/phone/BenchPhone.vue'
import KnownCustomers from '../components/people/KnownCustomers.vue'
import KeptBackups from '../components/backup/KeptBackups.vue'
import RoleMark from '../components/phone/RoleMark.vue'
import WhyNot from '../components/run/WhyNot.vue'
import { forgetDraft, useDraft } from '../lib/draft'
import { dateTime } from '../lib/format'
import { language, languageItems, say } from '../lib/say'
import { vBeginHere } from '../lib/focus'

const router = useRouter()
const client = useQueryClient()
const bench = useBench()
const session = useSession()
const draft = useDraft(session.data.value?.user?.name ?? '', language.value)
const trouble = ref('')
const busy = ref(false)

const languages = computed(languageItems)
const free = computed(() => (bench.data.value ?? []).filter((p) => p.tray === null))
const taken = computed(() =>
  (bench.data.value ?? [])
    .filter((p) => p.tray !== null)
    .map((p) => `${p.live.model} (${p.tray})`)
    .join(', '),
)
const errands = computed(() =>
  (['move', 'only_back_up', 'bring_kept'] as const).map((value) => ({ value, title: say(`errand.${value}`) })),
)
const isKept = computed(() => draft.errand === 'bring_kept')
const hasGiving = computed(() => !isKept.value)
const hasReceiving = computed(() => draft.errand !== 'only_back_up')
/** The only role that a phone can have. */
const only = computed(() => (isKept.value ? 'receives' : hasReceiving.value ? undefined : 'gives'))
const CONSENTS = { move: 'new.consent', only_back_up: 'new.consent_back_up', bring_kept: 'new.consent_kept' }
const lacking = computed(() =>
  Object.entries({
    customer: draft.customer.trim() === '',
    contact: draft.contact.trim() === '',
    backup: isKept.value && draft.backups.length === 0,
    giving: !isThere(draft.giving) && hasGiving.value,
    receiving: !isThere(draft.receiving) && hasReceiving.value,
    consent: !draft.consent,
  }).flatMap(([what, lacks]) => (lacks ? [say(`lacking.${what}`)] : [])),
)
/** What was chosen stays chosen while it is away: a cable that is out for a moment costs nobody their choice. */
function isThere(serial: string): boolean {
  return free.value.some((p) => p.live.serial === serial)
}
const isWhole = computed(() => lacking.value.length === 0)

function give(serial: string): void {
  if (draft.receiving === serial) draft.receiving = draft.giving
  draft.giving = draft.giving === serial ? '' : serial
}
function receive(serial: string): void {
  if (draft.giving === serial) draft.giving = draft.receiving
  draft.receiving = draft.receiving === serial ? '' : serial
}
const model = (serial: string): string =>
  free.value.find((p) => p.live.serial === serial)?.live.model ?? say('role.not_chosen')

watch(
  () => draft.errand,
  () => {
    if (!hasGiving.value) draft.giving = ''
    if (!hasReceiving.value) draft.receiving = ''
    if (!isKept.value) draft.backups = []
    // What somebody consented to was something else.
    draft.consent = false
  },
)
/** Whose backup it is comes to the counter again: what the shop has of them is shown, and can be corrected. */
watch(
  () => draft.backups[0]?.customer_id,
  () => {
    const first = draft.backups[0]
    if (!first) return
    draft.known = null
    Object.assign(draft, { customer: first.customer, contact: first.contact, language: first.language })
  },
)
function comesAgain(one: Schemas['KnownCustomer'] | null): void {
  draft.known = one
  if (one) Object.assign(draft, { customer: one.name, contact: one.contact, language: one.language })
}
async function open(): Promise<void> {
  if (busy.value || !isWhole.value) return
  busy.value = true
  trouble.value = ''
  try {
    const { known, giving, receiving, backups, ...rest } = draft
    const asked = {
      ...rest,
      ...(known && !isKept.value ? { known: known.id } : {}),
      ...(hasGiving.value ? { giving } : {}),
      ...(hasReceiving.value ? { receiving } : {}),
      ...(isKept.value ? { backups: backups.map((b) => b.id) } : {}),
    }
    const tray = await openTray(asked)
    forgetDraft()
    await client.invalidateQueries({ queryKey: ['trays'] })
    await router.push(`/trays/${tray.number}`)
  } catch (error) {
    trouble.value = error instanceof Error ? error.message : say('new.failed')
  } finally {
    busy.value = false
  }
}
watch(
  () => ({ ...draft }),
  () => (trouble.value = ''),
)
</script>

<template>
  <div class="intake">
    <form class="sheet pad who" @submit.prevent="open">
      <h1>{{ say('new.title') }}</h1>
      <v-text-field v-model="draft.customer" v-begin-here :label="say('new.customer')" maxlength="120" />
      <KnownCustomers v-if="!isKept" :typed="draft.customer" :known="draft.known" @choose="comesAgain" />
      <v-text-field
        v-model="draft.contact"
        :label="say('new.contact')"
        maxlength="120"
        :hint="say('new.contact_hint')"
        persistent-hint
      />
      <v-select v-model="draft.language" :items="languages" :label="say('new.language')" />
      <fieldset class="errand">
        <legend class="small soft">{{ say('new.errand') }}</legend>
        <label v-for="errand in errands" :key="errand.value">
          <input v-model="draft.errand" type="radio" name="errand" :value="errand.value" />
          {{ errand.title }}
        </label>
      </fieldset>
      <v-checkbox v-model="draft.consent" :label="say(CONSENTS[draft.errand])" />
      <div class="chosen">
        <p v-if="hasGiving"><RoleMark role="gives" /> {{ model(draft.giving) }}</p>
        <template v-else>
          <p v-if="draft.backups.length === 0" class="soft">{{ say('new.no_backup') }}</p>
          <p v-for="b in draft.backups" :key="b.id">
            {{ say('kept.chosen', { edition: b.edition, at: dateTime(b.taken_at), tray: b.tray }) }}
          </p>
        </template>
        <p v-if="hasReceiving"><RoleMark role="receives" /> {{ model(draft.receiving) }}</p>
      </div>
      <p v-if="draft.errand === 'move'" class="soft small">{{ say('new.looked') }}</p>
      <p v-if="trouble" class="trouble" role="alert">{{ trouble }}</p>
      <v-btn class="next" type="submit" :disabled="!isWhole" :loading="busy">{{ say('new.open') }}</v-btn>
      <WhyNot :because="isWhole ? '' : say('why.lacking', { list: lacking.join(', ') })" />
    </form>
    <div class="right">
      <KeptBackups v-if="isKept" v-model="draft.backups" />
      <section class="bench" :aria-label="say('new.bench')">
        <h2>{{ say('new.bench') }}</h2>
        <p v-if="bench.data.value === undefined && bench.error.value" class="trouble" role="alert">
          {{ bench.error.value.message }}
        </p>
        <p v-else-if="bench.data.value === undefined" class="soft" role="status">{{ say('new.looking') }}</p>
        <p v-else-if="free.length === 0" class="sheet pad">{{ say('new.no_phone') }}</p>
        <BenchPhone
          v-for="phone in free"
          :key="phone.live.serial"
          :live="phone.live"
          :role="
            draft.giving === phone.live.serial ? 'gives' : draft.receiving === phone.live.serial ? 'receives' : null
          "
          :only="only"
          @give="give(phone.live.serial)"
          @receive="receive(phone.live.serial)"
        />
        <p v-if="taken !== ''" class="soft small">{{ say('new.taken', { phones: taken }) }}</p>
      </section>
    </div>
  </div>
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
.errand {
  border: 0;
  margin: 0;
  padding: 0;
  display: flex;
  flex-wrap: wrap;
  column-gap: var(--gap-4);
}
.errand label {
  display: flex;
  align-items: center;
  gap: var(--gap-2);
  min-height: 32px;
}
.errand input {
  accent-color: var(--ribbon);
  width: 18px;
  height: 18px;
}
.right {
  display: grid;
  gap: var(--gap-6);
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
