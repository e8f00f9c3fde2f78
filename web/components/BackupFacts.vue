<script setup lang="ts">
import type { Schemas } from '../api/client'
import { bytes, count, dateTime, phoneNumber } from '../lib/format'

defineProps<{ backup: Schemas['Backup'] }>()
</script>

<template>
  <dl class="facts">
    <div>
      <dt>Taken</dt>
      <dd>{{ dateTime(backup.taken_at) }}</dd>
    </div>
    <div>
      <dt>Account</dt>
      <dd>{{ phoneNumber(backup.account) }}</dd>
    </div>
    <div>
      <dt>Conversations</dt>
      <dd>{{ count(backup.conversations) }}</dd>
    </div>
    <div>
      <dt>Messages</dt>
      <dd>{{ count(backup.messages) }}</dd>
    </div>
    <div>
      <dt>Attachments</dt>
      <dd>{{ count(backup.attachments) }}, {{ bytes(backup.attachment_bytes) }}</dd>
    </div>
    <div v-if="backup.lost > 0">
      <dt>Damaged on the phone</dt>
      <dd class="lost">{{ count(backup.lost) }} messages</dd>
    </div>
    <div v-if="backup.attachments_absent > 0">
      <dt>Without their file</dt>
      <dd>{{ count(backup.attachments_absent) }} already on the giving phone</dd>
    </div>
  </dl>
</template>

<style scoped>
.facts {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2) var(--gap-6);
  margin: 0;
}
dt {
  font-size: var(--t-small);
  color: var(--soft);
}
dd {
  margin: 0;
  font-weight: 600;
}
.lost {
  color: var(--missing);
}
</style>
