<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import { useLeaveOut } from '../api/queries'
import EvidenceList from '../components/EvidenceList.vue'
import { dateTime, phoneNumber } from '../lib/format'
import { say } from '../lib/say'

const props = defineProps<{ tray: Schemas['Tray'] }>()
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
        <tr v-if="tray.errand === 'move'">
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
    <div v-if="!tray.closed && tray.moves.some((m) => m.left_out)">
      <v-btn :loading="back.isPending.value" @click="back.mutate(false)">{{ say('tray.take_in') }}</v-btn>
    </div>
    <p v-if="back.error.value" class="trouble" role="alert">{{ back.error.value.message }}</p>
    <EvidenceList :tray="tray" stage="intake" />
  </section>
</template>
