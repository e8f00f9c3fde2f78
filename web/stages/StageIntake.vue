<script setup lang="ts">
import type { Schemas } from '../api/client'
import EvidenceList from '../components/EvidenceList.vue'
import { dateTime } from '../lib/format'

defineProps<{ tray: Schemas['Tray'] }>()
</script>

<template>
  <section class="sheet pad panel">
    <h2>Intake</h2>
    <table class="plain">
      <tbody>
        <tr>
          <th scope="row">Customer</th>
          <td>{{ tray.customer }}</td>
        </tr>
        <tr>
          <th scope="row">To reach at</th>
          <td>{{ tray.contact }}</td>
        </tr>
        <tr>
          <th scope="row">Opened</th>
          <td>{{ dateTime(tray.opened_at) }} by {{ tray.opened_by }}</td>
        </tr>
        <tr>
          <th scope="row">To bring</th>
          <td>Everything, to an empty phone</td>
        </tr>
      </tbody>
    </table>
    <EvidenceList :tray="tray" stage="intake" />
  </section>
</template>
