<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '../api/client'
import { useEraseBackup, useGoOnWithBackup, useVerifyBackup } from '../api/queries'
import { bytes, dateTime } from '../lib/format'
import { mayBegin, whyNotNow } from '../lib/runs'
import { say } from '../lib/say'
import ProgressLine from './ProgressLine.vue'
import RunActs from './RunActs.vue'
import TypedDialog from './TypedDialog.vue'

/** The backups that a tray has made, one by one: whether each is whole, what has become of it, one erased by itself. */
const props = defineProps<{ tray: Schemas['Tray']; list: Schemas['Keeping']['list'] }>()
const erase = useEraseBackup(() => props.tray.number)
const verify = useVerifyBackup(() => props.tray.number)
const goOn = useGoOnWithBackup(() => props.tray.number)
const failed = computed(() => verify.error.value?.message ?? goOn.error.value?.message ?? '')
const asked = ref<string | null>(null)
const typed = ref('')
const one = computed(() => props.list.find((kept) => kept.id === asked.value) ?? null)
const isAsking = computed({
  get: () => one.value !== null,
  set: (open: boolean) => {
    if (!open) asked.value = null
  },
})
const title = computed(() =>
  one.value === null ? '' : say('keeping.ask_one', { edition: one.value.edition, at: dateTime(one.value.taken_at) }),
)
function ask(id: string): void {
  typed.value = ''
  asked.value = id
}
function confirm(): void {
  if (one.value === null || erase.isPending.value) return
  erase.mutate({ id: one.value.id, typed: typed.value }, { onSuccess: () => (asked.value = null) })
}
</script>

<template>
  <section :aria-label="say('keeping.list')">
    <table class="plain">
      <tbody>
        <template v-for="kept in list" :key="kept.id">
          <tr>
            <td>
              <b>{{ kept.edition }}</b>
            </td>
            <td>{{ say('keeping.one', { at: dateTime(kept.taken_at), messages: kept.messages }) }}</td>
            <td class="n">{{ bytes(kept.bytes) }}</td>
            <td v-if="kept.state === 'erased'" colspan="2" class="soft small" :class="{ there: kept.is_there }">
              {{
                say('keeping.one_erased', {
                  at: dateTime(kept.erased_at),
                  by: kept.erased_by ?? '',
                  files: kept.files,
                })
              }}
              · <span class="fate">{{ kept.is_there ? say('keeping.is_there') : `✓ ${say('keeping.is_gone')}` }}</span>
            </td>
            <td v-else-if="kept.state === 'erasing'" colspan="2" class="soft small" role="status">
              {{ say('keeping.erasing') }}
            </td>
            <td v-else>
              <span class="soft small" :class="{ there: kept.trouble }" role="status">{{
                kept.trouble
                  ? say('keeping.broken', { why: kept.trouble })
                  : say('keeping.whole', { at: dateTime(kept.verified_at) })
              }}</span>
            </td>
            <td v-if="kept.state === 'kept'" class="acts">
              <v-btn
                v-if="mayBegin(kept, 'verify')"
                variant="text"
                size="small"
                :aria-label="`${say('keeping.verify')} ${kept.edition}, ${dateTime(kept.taken_at)}`"
                @click="verify.mutate(kept.id)"
                >{{ say('keeping.verify') }}</v-btn
              >
              <v-btn
                v-if="list.length > 1 && mayBegin(kept, 'erase')"
                variant="text"
                size="small"
                :disabled="whyNotNow(kept, 'erase') !== ''"
                :title="whyNotNow(kept, 'erase')"
                :aria-label="`${say('keeping.erase_one')} ${kept.edition}, ${dateTime(kept.taken_at)}`"
                @click="ask(kept.id)"
                >{{ say('keeping.erase_one') }}</v-btn
              >
            </td>
          </tr>
          <tr v-if="kept.run">
            <td colspan="5">
              <div class="run">
                <p v-if="kept.run.trouble" class="small" role="status">
                  {{ say('keeping.verifying_stands', { why: kept.run.trouble }) }}
                </p>
                <ProgressLine v-else class="far" :progress="kept.run.progress" />
                <v-btn
                  v-if="kept.run.may.includes('go_on')"
                  :loading="goOn.isPending.value"
                  @click="goOn.mutate({ backup: kept.id, run: kept.run.id })"
                  >{{ say('keeping.go_on') }}</v-btn
                >
                <RunActs :of="{ number: tray.number, backup: kept.id }" :run="kept.run" />
              </div>
            </td>
          </tr>
        </template>
      </tbody>
    </table>
    <p v-if="failed !== ''" class="trouble" role="alert">{{ failed }}</p>
    <TypedDialog
      v-model:open="isAsking"
      v-model:typed="typed"
      :title="title"
      :label="say('keeping.type', { number: tray.number })"
      :act="say('keeping.do')"
      :why="typed.trim() === String(tray.number) ? '' : say('why.number')"
      :busy="erase.isPending.value"
      :error="erase.error.value"
      @confirm="confirm"
    >
      <p>{{ say('keeping.what_one', { number: tray.number }) }}</p>
    </TypedDialog>
  </section>
</template>

<style scoped>
td {
  vertical-align: middle;
}
.acts,
.fate {
  white-space: nowrap;
}
.run {
  display: flex;
  align-items: center;
  gap: var(--gap-3);
}
.far {
  flex: 1;
}
.there {
  color: var(--missing);
  font-weight: 600;
}
</style>
