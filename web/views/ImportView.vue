<script setup lang="ts">
import { computed, onBeforeUnmount, reactive, ref, shallowRef, watch } from 'vue'
import { discardUpload, line, useAskForImport, useImports, useOnStick } from '../api/imports'
import type { Schemas } from '../api/client'
import ImportList from '../components/backup/ImportList.vue'
import KnownCustomers from '../components/people/KnownCustomers.vue'
import WhyNot from '../components/run/WhyNot.vue'
import { bytes, dateTime, percent } from '../lib/format'
import { importAsked, importLacks, isLocked, newImport } from '../lib/import'
import { language, languageItems, say, type Language } from '../lib/say'
import { forgetUpload, send, type Upload } from '../lib/upload'

/** What lay elsewhere becomes a backup that the shop keeps: what it is, and whose. */
const query = useImports()
const here = computed(() => query.data.value)
const draft = reactive(newImport(language.value))
const stick = computed(() => (draft.isSent ? '' : draft.stick))
const onStick = useOnStick(stick)
const found = computed(() => (stick.value === '' ? [] : (onStick.data.value?.found ?? [])))
const languages = computed(languageItems)
watch(
  here,
  (now) => {
    if (now === undefined) return
    // The only one that is in is meant; one that is out no more.
    const isIn = now.sticks.some((one) => one.id === draft.stick)
    if (!isIn) Object.assign(draft, { stick: now.sticks.length === 1 ? (now.sticks[0]?.id ?? '') : '', path: null })
  },
  { immediate: true },
)
watch(found, (now) => {
  if (draft.path === null && now.length === 1) draft.path = now[0]?.path ?? null
})

const upload = shallowRef<Upload | null>(null)
const isOff = ref(false)
const trouble = ref('')
const file = shallowRef<File | null>(null)
let ends = new AbortController()
const part = computed(() => (upload.value === null ? 0 : upload.value.there / upload.value.bytes))

async function begin(): Promise<void> {
  if (file.value === null) return
  ends.abort()
  ends = new AbortController()
  trouble.value = ''
  try {
    await send(
      file.value,
      line,
      (now, off) => {
        upload.value = now
        isOff.value = off
      },
      ends.signal,
    )
  } catch (error) {
    trouble.value = error instanceof Error ? error.message : say('app.no_answer_how')
  }
}
function choose(event: Event): void {
  const chosen = (event.target as HTMLInputElement).files?.[0]
  if (chosen === undefined) return
  if (upload.value !== null) drop()
  file.value = chosen
  void begin()
}
/** What was sent and is not wanted lies nowhere. */
function drop(): void {
  ends.abort()
  if (upload.value !== null) void discardUpload(upload.value.id)
  forgetUpload()
  upload.value = null
  file.value = null
  trouble.value = ''
}
onBeforeUnmount(() => ends.abort())

const isKeyNeeded = computed(() => isLocked(draft, found.value, upload.value))
const lacks = computed(() => importLacks(draft, found.value, upload.value))
const ask = useAskForImport()
function comesAgain(one: Schemas['KnownCustomer'] | null): void {
  draft.known = one
  if (one) Object.assign(draft, { customer: one.name, contact: one.contact, language: one.language as Language })
}
function go(): void {
  if (lacks.value !== '' || ask.isPending.value) return
  ask.mutate(importAsked(draft, upload.value), {
    onSuccess: () => {
      // The next is another customer's, and so is the consent.
      Object.assign(draft, { ...newImport(language.value), stick: draft.stick, isSent: draft.isSent })
      upload.value = null
      file.value = null
      forgetUpload()
    },
  })
}
</script>

<template>
  <div class="page wide">
    <RouterLink to="/cupboard" class="soft">‹ {{ say('cupboard.back') }}</RouterLink>
    <header>
      <h1>{{ say('import.title') }}</h1>
      <p class="soft">{{ say('import.about') }}</p>
    </header>
    <p v-if="here === undefined && query.error.value" class="trouble" role="alert">{{ query.error.value.message }}</p>
    <p v-else-if="here === undefined" class="soft" role="status">{{ say('import.looking') }}</p>
    <template v-else>
      <form class="two" @submit.prevent="go">
        <div class="sheet pad part">
          <fieldset>
            <legend>{{ say('import.where') }}</legend>
            <p v-if="here.sticks.length === 0" class="soft" role="status">{{ say('import.no_stick') }}</p>
            <label v-for="one in here.sticks" :key="one.id">
              <input
                type="radio"
                name="from"
                :checked="!draft.isSent && draft.stick === one.id"
                @change="Object.assign(draft, { stick: one.id, path: null, isSent: false })"
              />
              <bdi>{{ one.label }}</bdi>
            </label>
            <label>
              <input v-model="draft.isSent" type="radio" name="from" :value="true" />
              {{ say('import.file') }}
            </label>
          </fieldset>
          <div v-if="draft.isSent" class="part">
            <label class="pick">
              <span class="small soft">{{ say('import.choose') }}</span>
              <input type="file" @change="choose" />
            </label>
            <div v-if="upload" class="sending" role="status">
              <span class="name"
                ><bdi>{{ upload.name }}</bdi></span
              >
              <svg class="bar" viewBox="0 0 100 8" preserveAspectRatio="none" aria-hidden="true">
                <rect width="100" height="8" class="rest" />
                <rect :width="100 * part" height="8" class="there" />
              </svg>
              <span class="small soft">{{
                upload.is_whole
                  ? say('import.sent', { size: bytes(upload.bytes) })
                  : say('import.sending', { done: bytes(upload.there), size: bytes(upload.bytes), part: percent(part) })
              }}</span>
              <span v-if="isOff" class="small late">▲ {{ say('import.line_off') }}</span>
              <b v-if="upload.is_whole" class="small">{{
                upload.sort === null ? `✕ ${say('import_lacks.nothing')}` : say(`import_of.${upload.sort}`)
              }}</b>
              <div class="acts">
                <v-btn v-if="trouble !== ''" @click="begin">{{ say('import.send_on') }}</v-btn>
                <v-btn variant="text" @click="drop">{{ say('import.discard') }}</v-btn>
              </div>
            </div>
            <p v-if="trouble !== ''" class="trouble" role="alert">{{ trouble }}</p>
          </div>
          <template v-else-if="draft.stick !== ''">
            <p v-if="onStick.error.value" class="trouble" role="alert">{{ onStick.error.value.message }}</p>
            <p v-else-if="onStick.data.value === undefined" class="soft" role="status">
              {{ say('import.looking_stick') }}
            </p>
            <p v-else-if="found.length === 0" role="status">{{ say('import.none_found') }}</p>
            <fieldset v-else class="found">
              <legend>{{ say('import.what') }}</legend>
              <label v-for="one in found" :key="one.path" class="one" :class="{ chosen: draft.path === one.path }">
                <input v-model="draft.path" type="radio" name="what" :value="one.path" />
                <span class="of">
                  <b>{{ say(`import_of.${one.sort}`) }}</b>
                  <span class="small path"
                    ><bdi>{{ one.path === '' ? say('import.all_of_it') : one.path }}</bdi></span
                  >
                </span>
                <span class="small soft n">
                  <span v-if="one.bytes > 0">{{ bytes(one.bytes) }}</span>
                  <span>{{ dateTime(one.changed_at) }}</span>
                  <span v-if="one.is_locked" class="locked">{{
                    say('import.locked', { lock: one.lock ?? 'other' })
                  }}</span>
                </span>
              </label>
            </fieldset>
            <p v-if="onStick.data.value?.is_whole === false" class="late small">▲ {{ say('import.not_all') }}</p>
            <p>
              <v-btn variant="text" :loading="onStick.isFetching.value" @click="onStick.refetch()">{{
                say('import.look_again')
              }}</v-btn>
            </p>
          </template>
        </div>
        <div class="sheet pad part stay">
          <h2>{{ say('import.whose') }}</h2>
          <v-text-field v-model="draft.customer" :label="say('new.customer')" maxlength="120" hide-details />
          <KnownCustomers :typed="draft.customer" :known="draft.known" @choose="comesAgain" />
          <v-text-field
            v-model="draft.contact"
            :label="say('new.contact')"
            maxlength="120"
            :hint="say('new.contact_hint')"
            persistent-hint
          />
          <v-select v-model="draft.language" :items="languages" :label="say('new.language')" hide-details />
          <v-text-field
            v-if="isKeyNeeded"
            v-model="draft.key"
            type="password"
            autocomplete="off"
            maxlength="200"
            :label="say('import.key')"
            :hint="say('import.key_how')"
            persistent-hint
          />
          <v-checkbox v-model="draft.consent" :label="say('import.consent')" hide-details />
          <p v-if="ask.error.value" class="trouble" role="alert">{{ ask.error.value.message }}</p>
          <v-btn class="next" type="submit" :disabled="lacks !== ''" :loading="ask.isPending.value">{{
            say('import.do')
          }}</v-btn>
          <WhyNot :because="lacks === '' ? '' : say(lacks)" />
          <p class="soft small">{{ say('import.kept') }}</p>
        </div>
      </form>
      <section class="sheet pad part" :aria-label="say('import.list')">
        <h2>{{ say('import.list') }}</h2>
        <ImportList :list="here.imports" />
      </section>
    </template>
  </div>
</template>

<style scoped>
.page {
  display: grid;
  gap: var(--gap-3);
}
.two {
  display: grid;
  grid-template-columns: minmax(0, 1.6fr) minmax(320px, 1fr);
  gap: var(--gap-4);
  align-items: start;
}
.part {
  display: grid;
  gap: var(--gap-3);
  align-content: start;
}
.stay {
  position: sticky;
  top: 68px;
}
fieldset {
  display: grid;
  gap: 2px;
  border: 0;
  padding: 0;
  margin: 0;
}
legend {
  padding: 0 0 4px;
  font-weight: 600;
}
label {
  display: flex;
  gap: 8px;
  align-items: baseline;
  min-height: 28px;
}
label.pick {
  flex-direction: column;
  gap: 4px;
}
input[type='radio'] {
  accent-color: var(--ribbon);
}
.found .one {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr) auto;
  gap: 0 var(--gap-3);
  padding: var(--gap-2) var(--gap-3);
  border: 1px solid var(--line);
  border-left-width: 5px;
}
.found .one + .one {
  margin-top: var(--gap-1);
}
.found .one.chosen {
  border-left-color: var(--ribbon);
}
.of,
.n,
.sending {
  display: grid;
}
.path,
.name {
  overflow-wrap: anywhere;
}
.n {
  text-align: right;
  font-variant-numeric: tabular-nums;
}
.locked {
  color: var(--ink);
  font-weight: 600;
}
.late {
  color: var(--changed);
  font-weight: 600;
}
.sending {
  gap: 4px;
}
.bar {
  width: 100%;
  height: 8px;
}
.bar .rest {
  fill: var(--sunk);
}
.bar .there {
  fill: var(--ribbon);
}
.acts {
  display: flex;
  gap: var(--gap-2);
}
@media (max-width: 900px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
  .stay {
    position: static;
  }
}
</style>
