<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '../../api/client'
import { useAskForRun } from '../../api/runs'
import { dateTime } from '../../lib/format'
import { isTagOf } from '../../lib/labels'
import { mayBegin, whyNotNow } from '../../lib/runs'
import { say } from '../../lib/say'
import TypedDialog from '../frame/TypedDialog.vue'

/** The way back: the phone that receives, as it was before it was written to. */
const props = defineProps<{
  tray: Schemas['Tray']
  move: Schemas['Move']
  /** whether the account is named: several stand beside one another */
  named?: boolean
}>()
const ask = useAskForRun(computed(() => ({ number: props.tray.number, place: props.move.place })))
const isAsking = ref(false)
const typed = ref('')
const tag = computed(() => props.tray.phones.find((p) => p.role === 'receives')?.tag ?? '')
const copy = computed(() => (mayBegin(props.move, 'put_back') ? props.move.safety_copy : null))
const isNamed = computed(() => isTagOf(props.tray, tag.value, typed.value))
const why = computed(() => whyNotNow(props.move, 'put_back') || (isNamed.value ? '' : say('why.tag')))
function putBack(): void {
  ask.mutate(
    { kind: 'put_back', confirmed_tag: typed.value },
    {
      onSuccess: () => {
        isAsking.value = false
        typed.value = ''
      },
    },
  )
}
</script>

<template>
  <v-btn v-if="copy" variant="text" @click="isAsking = true">{{
    named ? say('put_back.open_one', { tag, edition: move.edition }) : say('put_back.open', { tag })
  }}</v-btn>
  <TypedDialog
    v-if="copy"
    v-model:open="isAsking"
    v-model:typed="typed"
    :title="say('put_back.ask', { tag })"
    :label="say('restore.type')"
    :act="say('put_back.do', { tag })"
    :why="why"
    :busy="ask.isPending.value"
    :error="ask.error.value"
    @confirm="putBack"
  >
    <p>
      {{
        copy.messages > 0
          ? say('put_back.held', {
              messages: copy.messages,
              conversations: copy.conversations,
              at: dateTime(copy.taken_at),
            })
          : say('put_back.held_nothing', { at: dateTime(copy.taken_at) })
      }}
    </p>
    <p>{{ say('put_back.how', { edition: move.edition }) }}</p>
  </TypedDialog>
</template>
