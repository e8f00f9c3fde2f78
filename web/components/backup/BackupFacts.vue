<script setup lang="ts">
import type { Schemas } from '../../api/client'
import { bytes, count, dateTime, phoneNumber } from '../../lib/format'
import { say } from '../../lib/say'

/** @property current whether it is still to be brought across: then it matters what it lacks */
defineProps<{ backup: Schemas['Backup']; current?: boolean }>()
</script>

<template>
  <div class="about">
    <p v-if="current && backup.phone_newest_at" class="behind" role="status">
      {{ say('backup.behind', { at: dateTime(backup.phone_newest_at) }) }}
    </p>
    <dl class="facts">
      <div>
        <dt>{{ say('backup.taken') }}</dt>
        <dd>{{ dateTime(backup.taken_at) }}</dd>
      </div>
      <div>
        <dt>{{ say('backup.way_in') }}</dt>
        <dd>
          {{ say(`way.${backup.way_in}.taken`, { at: dateTime(backup.made_at), lock: backup.locked_with ?? 'other' }) }}
          <template v-if="backup.without_videos">({{ say('backup.without_videos') }})</template>
        </dd>
      </div>
      <div>
        <dt>{{ say('backup.account') }}</dt>
        <dd>{{ phoneNumber(backup.account) }}</dd>
      </div>
      <div>
        <dt>{{ say('backup.conversations') }}</dt>
        <dd>{{ count(backup.conversations) }}</dd>
      </div>
      <div>
        <dt>{{ say('backup.messages') }}</dt>
        <dd>{{ count(backup.messages) }}</dd>
      </div>
      <div>
        <dt>{{ say('backup.newest') }}</dt>
        <dd>{{ dateTime(backup.newest_at) }}</dd>
      </div>
      <div>
        <dt>{{ say('backup.attachments') }}</dt>
        <dd>
          {{ say('backup.attachments_size', { count: backup.attachments, size: bytes(backup.attachment_bytes) }) }}
        </dd>
      </div>
      <div v-if="backup.lost > 0">
        <dt>{{ say('backup.damaged') }}</dt>
        <dd class="lost">{{ say('backup.damaged_count', { count: backup.lost }) }}</dd>
      </div>
      <div v-if="backup.attachments_absent > 0">
        <dt>{{ say('backup.absent') }}</dt>
        <dd>{{ say('backup.absent_count', { count: backup.attachments_absent }) }}</dd>
      </div>
    </dl>
  </div>
</template>

<style scoped>
.about {
  display: grid;
  gap: var(--gap-2);
}
.behind {
  color: var(--changed);
  font-weight: 600;
  max-width: 80ch;
}
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
