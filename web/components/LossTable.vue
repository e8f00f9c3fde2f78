<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import { useLosses } from '../api/queries'
import AccountsBar from './AccountsBar.vue'
import { count, many } from '../lib/format'

/** Losses before the fact: rule, count, one example; and how the rehearsal tallied. */
const props = defineProps<{ tray: Schemas['Tray'] }>()
const query = useLosses(
  computed(() => props.tray.number),
  computed(() => props.tray.run?.finished_at ?? ''),
)
const data = computed(() => query.data.value)
</script>

<template>
  <div class="sheet losses">
    <p v-if="query.isPending.value" class="soft" role="status">Reading the rehearsal…</p>
    <template v-else-if="data">
      <div>
        <h2>{{ data.totals.complete ? 'The rehearsal tallies' : 'The rehearsal does not tally' }}</h2>
        <p class="soft">
          Written in the receiving format, read back with its own reader, compared with the backup. No phone was
          touched.
        </p>
      </div>
      <AccountsBar :totals="data.totals" of="in the backup" />
      <table v-if="data.losses.length > 0" class="plain">
        <thead>
          <tr>
            <th>What the receiving side can’t hold as it is</th>
            <th class="n">Messages</th>
            <th class="n">Conversations</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="loss in data.losses" :key="loss.rule">
            <td>
              <span class="fate" :class="loss.leaves_out ? 'left_out' : 'changed'">{{
                loss.leaves_out ? 'left out' : 'changed'
              }}</span>
              {{ loss.sentence }}
              <span v-if="loss.example" class="soft small">For instance in “{{ loss.example }}”.</span>
            </td>
            <td class="n">{{ loss.messages > 0 ? count(loss.messages) : '–' }}</td>
            <td class="n">{{ count(loss.conversations) }}</td>
          </tr>
        </tbody>
      </table>
      <p v-else>Nothing is lost: the receiving side holds everything as it is.</p>
      <p v-if="data.attachments_absent > 0" class="soft">
        {{ many(data.attachments_absent, 'attachment') }} had no file on the giving phone any more; their messages
        arrive without it.
      </p>
    </template>
  </div>
</template>

<style scoped>
.losses {
  padding: var(--gap-4);
  display: grid;
  gap: var(--gap-4);
}
.fate {
  font-weight: 650;
  margin-right: 4px;
}
.changed {
  color: var(--changed);
}
.left_out {
  color: var(--left_out);
}
</style>
