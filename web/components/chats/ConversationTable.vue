<script setup lang="ts">
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import type { Schemas } from '../../api/client'
import { useConversations } from '../../api/chats'
import { bytes, count, date, phoneNumber } from '../../lib/format'
import { say, word } from '../../lib/say'
import { ordered, type Order } from '../../lib/scope'
import { isDamage } from '../../lib/words'

const props = defineProps<{
  /** address of its conversations */
  ledger: string
  /** id of the backup that they are of */
  backup: string
  find: string
  order?: Order
  /** ids of those that are left out; null where nothing is chosen */
  left?: Set<number> | null
  /** what is brought of each */
  brought?: Schemas['ScopeSum']['conversations'] | null
  /** the choice can only be looked at */
  fixed?: boolean
}>()
const emit = defineEmits<{ leave: [ids: number[], isLeft: boolean] }>()
const router = useRouter()
const query = useConversations(computed(() => props.backup))
const all = computed(() => query.data.value?.conversations ?? [])
const rows = computed(() =>
  ordered(
    all.value.filter((c) => (c.title ?? '').toLocaleLowerCase().includes(props.find.trim().toLocaleLowerCase())),
    props.order ?? 'newest',
  ),
)
const isChosen = computed(() => props.left !== undefined && props.left !== null)
const comes = computed(() => new Map((props.brought ?? []).map((one) => [one.id, one])))
const isOut = (c: (typeof all.value)[number]): boolean => isChosen.value && props.left?.has(c.id) === true
/** Not chosen to stay, and yet nothing of it goes across: its days or kinds are left out. */
const isEmptied = (c: (typeof all.value)[number]): boolean =>
  isChosen.value && props.brought !== null && c.messages > 0 && (comes.value.get(c.id)?.messages ?? 0) === 0
const partly = (c: (typeof all.value)[number]): number | null => {
  const messages = comes.value.get(c.id)?.messages ?? c.messages
  return isChosen.value && !isOut(c) && messages < c.messages ? messages : null
}
const isAllIn = computed(() => rows.value.every((c) => !isOut(c)))
const listed = computed(() => query.data.value?.findings ?? [])
const findings = computed(() => listed.value.filter((f) => !isDamage(f.code)))
const damages = computed(() => listed.value.filter((f) => isDamage(f.code)))
const lost = computed(() => all.value.reduce((sum, c) => sum + c.lost, 0))
const hurt = computed(() => all.value.filter((c) => c.lost > 0).length)
const notes = (c: (typeof all.value)[number]): string =>
  [
    c.pin_place !== null && say('choose.pinned', { place: c.pin_place }),
    c.archived && say('choose.archived'),
    c.hidden && say('choose.hidden'),
    c.unread > 0 && say('choose.unread', { count: c.unread }),
    ...c.labels.map((text) => say('notice.quoted', { text })),
  ]
    .filter(Boolean)
    .map((note) => ` · ${note}`)
    .join('')
const address = (id: number) => `${props.ledger}/${id}`
const listedAs = (group: string, f: (typeof listed.value)[number]): string =>
  say('choose.listed', { what: word(group, f.code), subject: f.subject, count: f.count })
</script>

<template>
  <p v-if="query.data.value === undefined && query.error.value" class="trouble" role="alert">
    {{ query.error.value.message }}
  </p>
  <p v-else-if="query.data.value === undefined" class="pad soft" role="status">{{ say('choose.reading') }}</p>
  <template v-else>
    <div v-if="damages.length > 0" class="trouble damage" role="alert">
      <b>{{ lost > 0 ? say('choose.damage', { lost, conversations: hurt }) : say('choose.damage_only') }}</b>
      {{ say('choose.damage_how') }}
      <details class="small">
        <summary>{{ say('choose.more') }}</summary>
        {{ say('choose.found', { list: damages.map((f) => listedAs('damage', f)).join('; ') }) }}
      </details>
    </div>
    <div class="scroll" tabindex="0" role="region" :aria-label="say('choose.region')">
      <table class="plain">
        <thead>
          <tr>
            <th v-if="isChosen" scope="col" class="tick">
              <input
                type="checkbox"
                :aria-label="say('scope.all_shown')"
                :checked="isAllIn"
                :disabled="fixed || rows.length === 0"
                @change="
                  emit(
                    'leave',
                    rows.map((c) => c.id),
                    isAllIn,
                  )
                "
              />
            </th>
            <th scope="col">{{ say('choose.conversation') }}</th>
            <th scope="col">{{ say('choose.kind') }}</th>
            <th scope="col" class="n">{{ say('choose.messages') }}</th>
            <th scope="col" class="n">{{ say('choose.attachments') }}</th>
            <th scope="col" class="n">{{ say('choose.first') }}</th>
            <th scope="col" class="n">{{ say('choose.newest') }}</th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="c in rows"
            :key="c.id"
            class="pick"
            :class="{ out: isOut(c) || isEmptied(c) }"
            @click="router.push(address(c.id))"
          >
            <td v-if="isChosen" class="tick" @click.stop>
              <input
                type="checkbox"
                :aria-label="say('scope.brings', { title: c.title ?? say('app.untitled') })"
                :checked="!isOut(c)"
                :disabled="fixed"
                @change="emit('leave', [c.id], !isOut(c))"
              />
            </td>
            <td class="title">
              <RouterLink :to="address(c.id)" @click.stop>{{
                c.title === null ? say('app.untitled') : phoneNumber(c.title)
              }}</RouterLink>
              <span class="soft small">{{ notes(c) }}</span>
            </td>
            <td class="soft">{{ word('conversation', c.kind) }}</td>
            <td class="n">
              <span v-if="partly(c) !== null" class="part">{{ say('scope.part', { count: partly(c) ?? 0 }) }}</span>
              {{ count(c.messages)
              }}<span v-if="c.lost > 0" class="absent"> · {{ say('choose.damaged', { count: c.lost }) }}</span>
            </td>
            <td class="n">
              {{ c.attachments > 0 ? `${count(c.attachments)} · ${bytes(c.attachment_bytes)}` : '–'
              }}<span v-if="c.attachments_absent > 0" class="absent">
                · {{ say('choose.file_missing', { count: c.attachments_absent }) }}</span
              >
            </td>
            <td class="n">{{ date(c.first_at) }}</td>
            <td class="n">{{ date(c.last_at) }}</td>
          </tr>
        </tbody>
      </table>
      <p v-if="rows.length === 0" class="pad soft">
        {{ all.length === 0 ? say('choose.none') : say('choose.no_match') }}
      </p>
    </div>
    <details v-if="findings.length > 0" class="listed soft small">
      <summary>{{ say('choose.more') }}</summary>
      {{ say('choose.carried', { list: findings.map((f) => listedAs('finding', f)).join('; ') }) }}
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
.tick {
  width: 34px;
}
.tick input {
  width: 18px;
  height: 18px;
  margin: 2px 0 0;
  accent-color: var(--ribbon);
}
.out .title a {
  text-decoration: line-through;
}
.out td {
  color: var(--left_out);
}
.part {
  color: var(--left_out);
}
.absent {
  color: var(--missing);
}
.listed {
  padding: var(--gap-2) var(--gap-4);
  border-top: 1px solid var(--line);
}
</style>
