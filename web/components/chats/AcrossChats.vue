<script setup lang="ts">
import { computed, onBeforeUnmount, ref, watch } from 'vue'
import type { Schemas } from '../../api/client'
import { useAcross, useFoundWords, useUncoverAll } from '../../api/chats'
import { contentLine } from '../../lib/contents'
import { bytes, date, dateTime, phoneNumber } from '../../lib/format'
import { useLease } from '../../lib/lease'
import { say } from '../../lib/say'
import { kindWord, type Across } from '../../lib/words'

/** A backup looked through by kind, or for words; covered until somebody uncovers all, and covered again when left. */
const props = defineProps<{
  /** address of its conversations */
  ledger: string
  backup: string
  what: Across
  closed: boolean
}>()
const backup = computed(() => props.backup)
const lease = useLease()
const isUncovered = lease.isUncovered
const isTexts = computed(() => props.what === 'texts')
const kind = computed<Schemas['ByKind']>(() => (props.what === 'texts' ? 'photos' : props.what))
const list = useAcross(
  backup,
  kind,
  isUncovered,
  computed(() => !isTexts.value),
)
const typed = ref('')
const words = ref('')
const found = useFoundWords(
  backup,
  words,
  computed(() => isTexts.value && isUncovered.value),
)
const uncover = useUncoverAll(backup)
/** Goes up when one leaves: what was asked for before is taken back when it is granted. */
let visit = 0
async function toggle(): Promise<void> {
  if (isUncovered.value) return lease.end()
  const mine = visit
  try {
    const granted = await uncover.mutateAsync()
    lease.hold(granted.lease)
    if (mine !== visit) lease.end()
  } catch {
    // What went wrong is shown.
  }
}
/** What was left is covered when one comes back. */
function leave(): void {
  visit += 1
  lease.end()
}
watch(backup, leave)
onBeforeUnmount(leave)

const pages = computed(() => list.data.value?.pages ?? [])
const items = computed(() => pages.value.flatMap((page) => page.messages))
const total = computed(() => pages.value[0]?.total ?? 0)
/** Somebody else may have ended what uncovers it. */
watch(pages, (all) => {
  if (isUncovered.value && all.some((page) => page.covered)) lease.hold(null)
})
const isSheet = computed(() => props.what === 'photos' || props.what === 'videos')
const hits = computed(() => found.data.value?.pages.flatMap((page) => page.messages) ?? [])
const error = computed(() => uncover.error.value ?? (isTexts.value ? found.error.value : list.error.value))

type Item = Schemas['AcrossItem']
const title = (item: Item): string => (item.title === '' ? say('app.untitled') : phoneNumber(item.title))
const by = (item: Item): string =>
  item.message.from_owner ? say('ledger.owner') : phoneNumber(item.message.sender ?? '')
const address = (item: Item) => ({
  path: `${props.ledger}/${item.conversation}`,
  query: { at: item.message.place },
})
const picture = (item: Item): string | null =>
  item.message.attachments[0]?.preview === true
    ? `/api/backups/${props.backup}/conversations/${item.conversation}/previews/${item.message.id}`
    : null
const length = (ms: number | null): string => {
  if (ms === null) return ''
  const seconds = Math.round(ms / 1000)
  return `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, '0')}`
}
/** Covered it says what it is and how large; uncovered its words too. */
function about(item: Item): string {
  const { message } = item
  const file = message.attachments[0]
  const told = [
    file?.name ?? contentLine(message) ?? (message.text === null || message.text === '' ? kindWord(message.kind) : ''),
    message.text ?? '',
    file ? [length(file.duration_ms), bytes(file.bytes)].filter((part) => part !== '').join(' · ') : '',
  ]
  return told.filter((part) => part !== '').join(' · ')
}
function look(): void {
  const wanted = typed.value.trim()
  // The same words once more: what failed is asked for again.
  if (wanted === words.value && wanted !== '') void found.refetch()
  else words.value = wanted
}
</script>

<template>
  <div class="across">
    <div class="bar">
      <p v-if="closed" class="soft">{{ say('ledger.closed') }}</p>
      <template v-else>
        <p class="soft">{{ isUncovered ? say('ledger.uncovered') : say('across.covered') }}</p>
        <v-btn :loading="uncover.isPending.value" @click="toggle">{{
          say(isUncovered ? 'across.cover' : 'across.uncover')
        }}</v-btn>
      </template>
    </div>
    <p v-if="error" class="trouble" role="alert">{{ error.message }}</p>

    <template v-if="isTexts">
      <form v-if="isUncovered" class="bar" @submit.prevent="look">
        <v-text-field v-model="typed" :label="say('across.words')" maxlength="100" hide-details />
        <v-btn type="submit" :loading="found.isFetching.value && !found.isFetchingNextPage.value">{{
          say('across.find')
        }}</v-btn>
      </form>
      <template v-if="isUncovered && words !== ''">
        <p v-if="found.isPending.value && !found.error.value" class="soft pad" role="status">
          {{ say('across.looking') }}
        </p>
        <p v-else-if="found.data.value" class="soft pad" role="status">
          {{
            hits.length === 0 && !found.hasNextPage.value
              ? say('across.not_found', { words })
              : say(found.hasNextPage.value ? 'across.found_more' : 'across.found', { count: hits.length, words })
          }}
        </p>
        <ul v-if="hits.length > 0" class="hits">
          <li v-for="item in hits" :key="item.message.id">
            <router-link :to="address(item)">
              <span class="soft small">{{ dateTime(item.message.sent_at) }} · {{ title(item) }} · {{ by(item) }}</span>
              <span class="words"
                ><template v-for="(part, n) in item.parts" :key="n"
                  ><mark v-if="part.hit">{{ part.text }}</mark
                  ><template v-else>{{ part.text }}</template></template
                ></span
              >
            </router-link>
          </li>
        </ul>
        <div v-if="found.hasNextPage.value" class="bar">
          <v-btn :loading="found.isFetchingNextPage.value" @click="found.fetchNextPage()">{{
            say('across.more')
          }}</v-btn>
        </div>
      </template>
    </template>

    <template v-else>
      <p v-if="list.isPending.value && !list.error.value" class="soft pad" role="status">{{ say('across.looking') }}</p>
      <p v-else-if="list.data.value && items.length === 0" class="soft pad">{{ say('across.none') }}</p>
      <template v-else-if="items.length > 0">
        <div v-if="isSheet" class="tiles">
          <router-link v-for="item in items" :key="item.message.id" class="tile" :to="address(item)">
            <span class="frame" :class="{ bare: !isUncovered || picture(item) === null }">
              <img
                v-if="isUncovered && picture(item) !== null"
                :src="picture(item) ?? ''"
                :alt="kindWord(item.message.kind)"
                loading="lazy"
              />
              <span v-else class="soft small">{{ kindWord(item.message.kind) }}</span>
              <span v-if="item.message.attachments[0]?.duration_ms" class="length small">{{
                length(item.message.attachments[0].duration_ms)
              }}</span>
            </span>
            <span class="small clip">{{ date(item.message.sent_at) }}</span>
            <span class="small soft clip">{{ title(item) }}</span>
          </router-link>
        </div>
        <table v-else class="plain">
          <thead>
            <tr>
              <th scope="col">{{ say('across.sent') }}</th>
              <th scope="col">{{ say('across.conversation') }}</th>
              <th scope="col">{{ say('across.by') }}</th>
              <th scope="col">{{ say('across.is') }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="item in items" :key="item.message.id">
              <td class="when">{{ dateTime(item.message.sent_at) }}</td>
              <td>
                <router-link class="clip" :to="address(item)">{{ title(item) }}</router-link>
              </td>
              <td>
                <span class="clip">{{ by(item) }}</span>
              </td>
              <td class="words">{{ about(item) }}</td>
            </tr>
          </tbody>
        </table>
        <div class="bar">
          <p class="soft" role="status">{{ say('across.shown', { shown: items.length, total }) }}</p>
          <v-btn v-if="list.hasNextPage.value" :loading="list.isFetchingNextPage.value" @click="list.fetchNextPage()">{{
            say('across.more')
          }}</v-btn>
        </div>
      </template>
    </template>
  </div>
</template>

<style scoped>
.bar {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: var(--gap-3);
  padding: var(--gap-2) var(--gap-4);
}
.bar p {
  margin: 0;
}
.trouble {
  margin: 0 var(--gap-4);
}
.tiles {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(104px, 1fr));
  gap: var(--gap-3) var(--gap-2);
  padding: var(--gap-2) var(--gap-4);
}
.tile {
  display: grid;
  min-width: 0;
  text-decoration: none;
  color: inherit;
}
.tile:hover .frame {
  outline: 2px solid var(--ribbon);
}
.frame {
  position: relative;
  aspect-ratio: 1;
  display: grid;
  place-items: center;
  background: var(--sunk);
  overflow: hidden;
  border-radius: 3px;
}
.bare {
  background: repeating-linear-gradient(135deg, var(--sunk) 0 6px, var(--surface) 6px 12px);
  border: 1px solid var(--line);
}
.bare > .soft {
  background: var(--surface);
  padding: 0 4px;
  text-align: center;
}
.frame img {
  width: 100%;
  height: 100%;
  object-fit: cover;
}
.length {
  position: absolute;
  right: 4px;
  bottom: 4px;
  padding: 0 4px;
  background: var(--surface);
  border-radius: 2px;
}
.hits {
  list-style: none;
  margin: 0;
  padding: 0 var(--gap-4);
}
.hits li {
  border-bottom: 1px solid var(--line);
}
.hits a {
  display: grid;
  padding: 6px 0;
  color: inherit;
  text-decoration: none;
}
.hits a:hover {
  background: var(--sunk);
}
.words {
  overflow-wrap: anywhere;
}
td a {
  color: inherit;
}
mark {
  background: color-mix(in srgb, var(--changed) 24%, var(--surface));
  color: inherit;
  font-weight: 650;
  text-decoration: underline;
}
.when {
  white-space: nowrap;
}
</style>
