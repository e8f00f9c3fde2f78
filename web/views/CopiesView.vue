<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { useConversations } from '../api/chats'
import { useCopies, useCopySum, useTakeCopy } from '../api/copies'
import CopyList from '../components/backup/CopyList.vue'
import WhyNot from '../components/run/WhyNot.vue'
import { copyAsked, copyLacks, GROUPS, newCopy, type CopyDraft } from '../lib/copy'
import { bytes, count, phoneNumber } from '../lib/format'
import { languageItems, say } from '../lib/say'
import { isNoDay } from '../lib/scope'

/** A copy of a kept backup that is taken home to read: what of it, in which forms, on which stick. */
const route = useRoute()
const backup = computed(() => String(route.params['backup']))
const query = useCopies(backup)
const here = computed(() => query.data.value)
const conversations = useConversations(backup)
const draft = ref<CopyDraft | null>(null)
const find = ref('')
const languages = computed(languageItems)
watch(
  here,
  (now) => {
    if (now === undefined) return
    draft.value ??= newCopy(now.language)
    // The only one that is in is meant; one that is out no more.
    const isIn = now.sticks.some((stick) => stick.id === draft.value?.stick)
    if (!isIn) draft.value.stick = now.sticks.length === 1 ? (now.sticks[0]?.id ?? '') : ''
    const packing = now.packings.find((one) => one.name === draft.value?.packing)
    if (packing === undefined) draft.value.packing = now.packings[0]?.name ?? ''
  },
  { immediate: true },
)
const asked = computed(() => (draft.value === null || draft.value.forms.length === 0 ? null : copyAsked(draft.value)))
const sum = useCopySum(backup, () => asked.value)
const told = computed(() => (asked.value === null ? undefined : sum.data.value))
const canLock = computed(() => here.value?.packings.find((one) => one.name === draft.value?.packing)?.can_lock ?? false)
const stick = computed(() => here.value?.sticks.find((one) => one.id === draft.value?.stick))
const lacks = computed(() => (draft.value && here.value ? copyLacks(draft.value, here.value, told.value) : ''))
const rows = computed(() => {
  const words = find.value.trim().toLocaleLowerCase()
  return (conversations.data.value?.conversations ?? []).filter((c) =>
    (c.title ?? '').toLocaleLowerCase().includes(words),
  )
})
const take = useTakeCopy(backup)

function choose(isSome: boolean): void {
  if (draft.value) draft.value.conversations = isSome ? [] : null
}
function send(): void {
  if (draft.value === null || asked.value === null || lacks.value !== '' || take.isPending.value) return
  const { packing, stick, language, password, reason } = draft.value
  take.mutate(
    {
      ...asked.value,
      packing,
      stick,
      language,
      password: canLock.value && password !== '' ? password : null,
      reason: reason.trim() === '' ? null : reason.trim(),
    },
    {
      onSuccess: () => {
        if (draft.value) draft.value.password = ''
      },
    },
  )
}
</script>

<template>
  <div class="page wide">
    <RouterLink :to="`/cupboard/${backup}`" class="soft">‹ {{ say('copies.back') }}</RouterLink>
    <p v-if="here === undefined && query.error.value" class="trouble" role="alert">{{ query.error.value.message }}</p>
    <p v-else-if="here === undefined || draft === null" class="soft" role="status">{{ say('copies.looking') }}</p>
    <template v-else>
      <header>
        <h1>{{ say('copies.title') }}</h1>
        <p class="soft">{{ say('copies.of', { customer: here.customer, edition: here.edition }) }}</p>
      </header>
      <form class="two" @submit.prevent="send">
        <div class="sheet pad part">
          <fieldset>
            <legend>{{ say('copies.what') }}</legend>
            <label
              ><input type="radio" name="which" :checked="draft.conversations === null" @change="choose(false)" />
              {{ say('copies.all') }}</label
            >
            <label
              ><input type="radio" name="which" :checked="draft.conversations !== null" @change="choose(true)" />
              {{ say('copies.some') }}
              <span v-if="draft.conversations !== null" class="soft"
                >· {{ say('copies.chosen', { count: draft.conversations.length }) }}</span
              ></label
            >
          </fieldset>
          <template v-if="draft.conversations !== null">
            <v-text-field v-model="find" type="search" :label="say('copies.find')" hide-details />
            <div class="list" role="group" :aria-label="say('copies.some')" tabindex="0">
              <label v-for="c in rows" :key="c.id">
                <input v-model="draft.conversations" type="checkbox" :value="c.id" />
                <span class="clip"
                  ><bdi>{{ c.title === null ? say('copy.untitled') : phoneNumber(c.title) }}</bdi></span
                >
                <span class="soft n">{{ count(c.messages) }}</span>
              </label>
            </div>
          </template>
          <fieldset class="across">
            <legend>{{ say('copies.kinds') }}</legend>
            <label><input v-model="draft.text" type="checkbox" /> {{ say('copies.text') }}</label>
            <label v-for="group in GROUPS" :key="group"
              ><input v-model="draft.groups" type="checkbox" :value="group" /> {{ say(`group.${group}`) }}</label
            >
          </fieldset>
          <div class="days">
            <v-text-field
              v-model="draft.from"
              :label="say('scope.from')"
              :placeholder="say('scope.day')"
              :error="isNoDay(draft.from)"
              hide-details
            />
            <v-text-field
              v-model="draft.to"
              :label="say('scope.to')"
              :placeholder="say('scope.day')"
              :error="isNoDay(draft.to)"
              hide-details
            />
          </div>
          <fieldset class="forms">
            <legend>{{ say('copies.as') }}</legend>
            <label v-for="form in here.forms" :key="form">
              <input v-model="draft.forms" type="checkbox" :value="form" />
              <span
                >{{ say(`copy_form.${form}`) }} <span class="soft small">{{ say(`copy_form.${form}_how`) }}</span></span
              >
            </label>
          </fieldset>
        </div>
        <div class="sheet pad part stay">
          <fieldset>
            <legend>{{ say('copies.where') }}</legend>
            <p v-if="here.sticks.length === 0" class="trouble" role="status">{{ say('copies.no_stick') }}</p>
            <label v-for="one in here.sticks" :key="one.id">
              <input v-model="draft.stick" type="radio" name="stick" :value="one.id" />
              <bdi>{{ say('copies.free', { label: one.label, free: bytes(one.free_bytes) }) }}</bdi>
            </label>
          </fieldset>
          <fieldset>
            <legend>{{ say('copies.packed') }}</legend>
            <label v-for="packing in here.packings" :key="packing.name">
              <input v-model="draft.packing" type="radio" name="packing" :value="packing.name" />
              {{ say(`packing.${packing.name}`) }}
            </label>
          </fieldset>
          <v-text-field
            v-if="canLock"
            v-model="draft.password"
            type="password"
            autocomplete="new-password"
            maxlength="200"
            :label="say('copies.password')"
            :hint="say('copies.password_how')"
            persistent-hint
          />
          <p v-if="!canLock || draft.password === ''" class="soft small">{{ say('copies.open') }}</p>
          <v-select v-model="draft.language" :items="languages" :label="say('copies.language')" hide-details />
          <v-text-field
            v-if="here.needs_reason && !here.needs_manager"
            v-model="draft.reason"
            maxlength="200"
            :label="say('copies.why')"
            hide-details
          />
          <div v-if="told" class="sum" role="status">
            <b>{{ say('copies.sum', { messages: told.messages, conversations: told.conversations }) }}</b>
            <span>{{
              draft.forms.includes('pages') || draft.forms.includes('files')
                ? say('copies.sum_files', { files: told.files, size: bytes(told.bytes) })
                : say('copies.sum_plain', { size: bytes(told.bytes) })
            }}</span>
          </div>
          <p v-if="sum.error.value" class="trouble" role="alert">{{ sum.error.value.message }}</p>
          <p v-if="take.error.value" class="trouble" role="alert">{{ take.error.value.message }}</p>
          <v-btn
            class="next"
            type="submit"
            :disabled="lacks !== '' || asked === null"
            :loading="take.isPending.value"
            >{{ say('copies.do') }}</v-btn
          >
          <WhyNot :because="lacks === '' ? '' : say(lacks, { free: bytes(stick?.free_bytes ?? 0) })" />
          <p class="soft small">{{ say('copies.log') }}</p>
        </div>
      </form>
      <section class="sheet pad part" :aria-label="say('copies.taken')">
        <h2>{{ say('copies.taken') }}</h2>
        <CopyList :backup="backup" :list="here.copies" />
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
input[type='radio'],
input[type='checkbox'] {
  accent-color: var(--ribbon);
}
.across {
  display: flex;
  flex-wrap: wrap;
  gap: 0 var(--gap-4);
}
.across legend {
  float: left;
  width: 100%;
}
.days {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: var(--gap-3);
  max-width: 420px;
}
.list {
  max-height: 240px;
  overflow-y: auto;
  border: 1px solid var(--line);
  padding: var(--gap-1) var(--gap-3);
}
.list label .clip {
  flex: 1;
}
.sum {
  display: grid;
}
</style>
