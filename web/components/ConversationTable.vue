<script setup lang="ts">
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { useConversations } from '../api/queries'
import { bytes, count, date, many } from '../lib/format'
import { CONVERSATIONS, DAMAGES, FINDINGS } from '../lib/words'

const props = defineProps<{ number: number; find: string }>()
const router = useRouter()
const query = useConversations(computed(() => props.number))
const all = computed(() => query.data.value?.conversations ?? [])
const rows = computed(() =>
  all.value.filter((c) => (c.title ?? '').toLocaleLowerCase().includes(props.find.trim().toLocaleLowerCase())),
)
const listed = computed(() => query.data.value?.findings ?? [])
const findings = computed(() => listed.value.filter((f) => !(f.code in DAMAGES)))
const damages = computed(() => listed.value.filter((f) => f.code in DAMAGES))
const lost = computed(() => all.value.reduce((sum, c) => sum + c.lost, 0))
const hurt = computed(() => all.value.filter((c) => c.lost > 0).length)
const notes = (c: (typeof all.value)[number]): string =>
  [
    c.pin_place !== null && `pinned ${c.pin_place}`,
    c.archived && 'archived',
    c.hidden && 'hidden by the rebuild',
    c.unread > 0 && `${c.unread} unread`,
    ...c.labels.map((label) => `“${label}”`),
  ]
    .filter(Boolean)
    .map((note) => ` · ${note}`)
    .join('')
const address = (id: number) => `/trays/${props.number}/conversations/${id}`
</script>

<template>
  <p v-if="query.isPending.value" class="pad soft" role="status">Reading the backup…</p>
  <p v-else-if="query.error.value" class="trouble" role="alert">{{ query.error.value.message }}</p>
  <template v-else>
    <div v-if="damages.length > 0" class="trouble damage" role="alert">
      <b v-if="lost > 0"
        >{{ many(lost, 'message') }} in {{ many(hurt, 'conversation') }} can’t be read: the phone’s own storage is
        damaged.</b
      >
      <b v-else>The phone’s own storage is damaged.</b>
      Everything else was saved. Have the customer see it now; it stands on the hand-over sheet too.
      <span class="small">
        Found:
        <template v-for="(f, n) in damages" :key="f.code + f.subject"
          >{{ n > 0 ? '; ' : '' }}{{ DAMAGES[f.code] }} ({{ f.subject }}): {{ count(f.count) }}</template
        >.
      </span>
    </div>
    <div class="scroll" tabindex="0" role="region" aria-label="Conversations of the backup">
      <table class="plain">
        <thead>
          <tr>
            <th>Conversation</th>
            <th>Kind</th>
            <th class="n">Messages</th>
            <th class="n">Attachments</th>
            <th class="n">First</th>
            <th class="n">Newest</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="c in rows" :key="c.id" class="pick" @click="router.push(address(c.id))">
            <td class="title">
              <RouterLink :to="address(c.id)" @click.stop>{{ c.title ?? 'Without a title' }}</RouterLink>
              <span class="soft small">{{ notes(c) }}</span>
            </td>
            <td class="soft">{{ CONVERSATIONS[c.kind] ?? c.kind }}</td>
            <td class="n">
              {{ count(c.messages) }}<span v-if="c.lost > 0" class="absent">{{ ` · ${count(c.lost)} damaged` }}</span>
            </td>
            <td class="n">
              {{ c.attachments > 0 ? `${count(c.attachments)} · ${bytes(c.attachment_bytes)}` : '–'
              }}<span v-if="c.attachments_absent > 0" class="absent">{{ ` · ${c.attachments_absent} gone` }}</span>
            </td>
            <td class="n">{{ date(c.first_at) }}</td>
            <td class="n">{{ date(c.last_at) }}</td>
          </tr>
        </tbody>
      </table>
      <p v-if="rows.length === 0" class="pad soft">
        {{ all.length === 0 ? 'The backup holds no conversations.' : 'No conversation has that in its title.' }}
      </p>
    </div>
    <p v-if="findings.length > 0" class="listed soft small">
      Carried along and listed:
      <template v-for="(f, n) in findings" :key="f.code + f.subject"
        >{{ n > 0 ? '; ' : '' }}{{ FINDINGS[f.code] ?? f.code }} ({{ f.subject }}), {{ count(f.count) }}</template
      >.
    </p>
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
