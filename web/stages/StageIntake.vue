<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { Schemas } from '../api/client'
import { useCorrect, useLeaveOut } from '../api/tray'
import EvidenceList from '../components/arrival/EvidenceList.vue'
import WithdrawTray from '../components/backup/WithdrawTray.vue'
import { dateTime, phoneNumber } from '../lib/format'
import { mayBegin } from '../lib/runs'
import { languageItems, say } from '../lib/say'
import { vBeginHere } from '../lib/focus'

const props = defineProps<{ tray: Schemas['Tray'] }>()
const correct = useCorrect(() => props.tray.number)
const isCorrecting = ref(false)
const told = ref({ customer: '', contact: '', language: props.tray.language })
watch(isCorrecting, () => {
  told.value = { customer: props.tray.customer, contact: props.tray.contact, language: props.tray.language }
})
const languages = computed(languageItems)
function store(): void {
  if (told.value.customer.trim() === '' || told.value.contact.trim() === '') return
  correct.mutate(told.value, { onSuccess: () => (isCorrecting.value = false) })
}
const back = useLeaveOut(
  computed(() => ({ number: props.tray.number, place: props.tray.moves.find((m) => m.left_out)?.place ?? 1 })),
)
</script>

<template>
  <section class="sheet pad panel">
    <h2>{{ say('stage.intake') }}</h2>
    <table class="plain">
      <tbody>
        <tr>
          <th scope="row">{{ say('new.customer') }}</th>
          <td>{{ tray.customer }}</td>
        </tr>
        <tr>
          <th scope="row">{{ say('intake.contact') }}</th>
          <td>{{ tray.contact }}</td>
        </tr>
        <tr>
          <th scope="row">{{ say('intake.language') }}</th>
          <td>{{ say(`language.${tray.language}`) }}</td>
        </tr>
        <tr>
          <th scope="row">{{ say('intake.opened') }}</th>
          <td>{{ say('intake.opened_by', { at: dateTime(tray.opened_at), by: tray.opened_by }) }}</td>
        </tr>
        <tr>
          <th scope="row">{{ say('intake.errand') }}</th>
          <td>{{ say(`errand.${tray.errand}`) }}</td>
        </tr>
        <tr v-for="m in tray.errand === 'bring_kept' ? tray.moves : []" :key="m.place">
          <th scope="row">{{ say('intake.from_kept') }}</th>
          <td v-if="m.backup">
            {{ m.edition }}:
            {{ say('intake.from_kept_of', { at: dateTime(m.backup.taken_at), tray: m.backup.tray }) }}
          </td>
        </tr>
        <tr v-if="tray.errand !== 'only_back_up'">
          <th scope="row">{{ say('intake.across') }}</th>
          <td>{{ say('intake.everything') }}</td>
        </tr>
        <tr>
          <th scope="row">{{ say('tray.accounts') }}</th>
          <td>
            <p v-if="tray.moves.length === 0" class="soft">{{ say('intake.no_account') }}</p>
            <p v-for="m in tray.moves" :key="m.place">
              <b>{{ m.edition }}</b>, {{ phoneNumber(m.number)
              }}<template v-if="m.left_out">
                · <span class="soft">{{ say('tray.left_out') }}</span></template
              >
            </p>
          </td>
        </tr>
      </tbody>
    </table>
    <form v-if="isCorrecting && mayBegin(tray, 'correct')" class="correct" @submit.prevent="store">
      <v-text-field v-model="told.customer" v-begin-here :label="say('new.customer')" maxlength="120" />
      <v-text-field v-model="told.contact" :label="say('intake.contact')" maxlength="120" />
      <v-select v-model="told.language" :items="languages" :label="say('intake.language')" />
      <p v-if="correct.error.value" class="trouble" role="alert">{{ correct.error.value.message }}</p>
      <div class="buttons">
        <v-btn type="submit" :loading="correct.isPending.value">{{ say('intake.correct_do') }}</v-btn>
        <v-btn variant="text" @click="isCorrecting = false">{{ say('tray.keep') }}</v-btn>
      </div>
    </form>
    <div v-else-if="mayBegin(tray, 'correct')" class="buttons">
      <v-btn variant="text" :to="`/trays/${tray.number}/labels`">{{ say('labels.open') }}</v-btn>
      <v-btn variant="text" @click="isCorrecting = true">{{ say('intake.correct') }}</v-btn>
      <WithdrawTray :tray="tray" />
    </div>
    <div v-if="tray.moves.some((m) => mayBegin(m, 'take_in'))">
      <v-btn :loading="back.isPending.value" @click="back.mutate(false)">{{ say('tray.take_in') }}</v-btn>
    </div>
    <p v-if="back.error.value" class="trouble" role="alert">{{ back.error.value.message }}</p>
    <EvidenceList :tray="tray" stage="intake" />
  </section>
</template>

<style scoped>
.correct {
  display: grid;
  gap: var(--gap-3);
  max-width: 480px;
}
.buttons {
  display: flex;
  gap: var(--gap-2);
}
</style>
