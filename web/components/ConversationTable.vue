<script setup lang="ts">
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { useConversations, type At } from '../api/queries'
import { bytes, count, date, phoneNumber } from '../lib/format'
import { say, word } from '../lib/say'
import { isDamage } from '../lib/words'

const props = defineProps<{ at: At; find: string }>()
const router = useRouter()
const query = useConversations(computed(() => props.at))
const all = computed(() => query.data.value?.conversations ?? [])
const rows = computed(() =>
  all.value.filter((c) => (c.title ?? '').toLocaleLowerCase().includes(props.find.trim().toLocaleLowerCase())),
)
const listed = computed(() => query.data.value?.findings ?? [])
const findings = computed(() => listed.value.filter((f) => !isDamage(f.code)))
const damages = computed(() => listed.value.filter((f) => isDamage(f.code)))
const lost = computed(() => all.value.reduce((sum, c) => sum + c.lost, 0))
const hurt = computed(() => all.value.filter((c) => c.lost > 0).length)
const notes = (c: (typeof all.value)[number]): string =>
  [
    c.pin_place !== null && say('look.pinned', { place: c.pin_place }),
    c.archived && say('look.archived'),
    c.hidden && say('look.hidden'),
    c.unread > 0 && say('look.unread', { count: c.unread }),
    ...c.labels.map((text) => say('notice.quoted', { text })),
  ]
    .filter(Boolean)
    .map((note) => ` · ${note}`)
    .join('')
const address = (id: number) => `/trays/${props.at.number}/accounts/${props.at.place}/conversations/${id}`
const listedAs = (group: string, f: (typeof listed.value)[number]): string =>
  say('look.listed', { what: word(group, f.code), subject: f.subject, count: f.count })
</script>

<template>
  <p v-if="query.data.value === undefined && query.error.value" class="trouble" role="alert">
    {{ query.error.value.message }}
  </p>
  <p v-else-if="query.data.value === undefined" class="pad soft" role="status">{{ say('look.reading') }}</p>
  <template v-else>
    <div v-if="damages.length > 0" class="trouble damage" role="alert">
      <b>{{ lost > 0 ? say('look.damage', { lost, conversations: hurt }) : say('look.damage_only') }}</b>
      {{ say('look.damage_how') }}
      <details class="small">
        <summary>{{ say('look.more') }}</summary>
        {{ say('look.found', { list: damages.map((f) => listedAs('damage', f)).join('; ') }) }}
      </details>
    </div>
    <div class="scroll" tabindex="0" role="region" :aria-label="say('look.region')">
      <table class="plain">
        <thead>
          <tr>
            <th scope="col">{{ say('look.conversation') }}</th>
            <th scope="col">{{ say('look.kind') }}</th>
            <th scope="col" class="n">{{ say('look.messages') }}</th>
            <th scope="col" class="n">{{ say('look.attachments') }}</th>
            <th scope="col" class="n">{{ say('look.first') }}</th>
            <th scope="col" class="n">{{ say('look.newest') }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="c in rows" :key="c.id" class="pick" @click="router.push(address(c.id))">
            <td class="title">
              <RouterLink :to="address(c.id)" @click.stop>{{
                c.title === null ? say('app.untitled') : phoneNumber(c.title)
              }}</RouterLink>
              <span class="soft small">{{ notes(c) }}</span>
            </td>
            <td class="soft">{{ word('conversation', c.kind) }}</td>
            <td class="n">
              {{ count(c.messages)
              }}<span v-if="c.lost > 0" class="absent"> · {{ say('look.damaged', { count: c.lost }) }}</span>
            </td>
            <td class="n">
              {{ c.attachments > 0 ? `${count(c.attachments)} · ${bytes(c.attachment_bytes)}` : '–'
              }}<span v-if="c.attachments_absent > 0" class="absent">
                · {{ say('look.file_missing', { count: c.attachments_absent }) }}</span
              >
            </td>
            <td class="n">{{ date(c.first_at) }}</td>
            <td class="n">{{ date(c.last_at) }}</td>
          </tr>
        </tbody>
      </table>
      <p v-if="rows.length === 0" class="pad soft">
        {{ all.length === 0 ? say('look.none') : say('look.no_match') }}
      </p>
    </div>
    <details v-if="findings.length > 0" class="listed soft small">
      <summary>{{ say('look.more') }}</summary>
      {{ say('look.carried', { list: findings.map((f) => listedAs('finding', f)).join('; ') }) }}
    </details>
  </template>
</template>

<style scoped>
.damage {
  margin: 0 var(--gap-4) var(--gap-3);
}
.scroll {
  max-height: calc(100vh - 330px);
  min-height: 260px;
  overflow: auto;
  border-top: 1px solid var(--line);
}
thead th {
  position: sticky;
  top: 0;
  background: var(--surface);
  z-index: 1;
}
.title {
  max-width: 300px;
}
.title a {
  color: inherit;
  font-weight: 600;
  text-decoration: none;
}
.title a:hover {
  text-decoration: underline;
}
.absent {
  color: var(--missing);
}
.listed {
  padding: var(--gap-2) var(--gap-4);
  border-top: 1px solid var(--line);
}
</style>
