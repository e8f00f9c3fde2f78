<script setup lang="ts">
import { useClock, useConfirmClock, useSession } from '../../api/session'
import { dateTime } from '../../lib/format'
import { say } from '../../lib/say'

/** That the clock has jumped, and that somebody who may has to say that the date is right. */
const clock = useClock()
const confirm = useConfirmClock()
const session = useSession()
</script>

<template>
  <section v-if="clock.data.value?.doubt" class="sheet pad doubt" role="status">
    <h2>{{ say('clock.title') }}</h2>
    <p>
      {{
        say('clock.how', {
          should: dateTime(clock.data.value.doubt.should_be),
          told: dateTime(clock.data.value.doubt.told),
        })
      }}
      <b>{{ say('clock.is', { now: dateTime(clock.data.value.now) }) }}</b>
    </p>
    <v-btn
      v-if="session.data.value?.user?.role === 'manager'"
      :loading="confirm.isPending.value"
      @click="confirm.mutate()"
    >
      {{ say('clock.confirm') }}
    </v-btn>
    <p v-if="confirm.error.value" class="trouble" role="alert">
      {{ say('clock.failed', { why: confirm.error.value.message }) }}
    </p>
  </section>
</template>

<style scoped>
.doubt {
  margin-block-end: 16px;
  border-inline-start: 4px solid rgb(var(--v-theme-warning));
}
h2 {
  font-size: 16px;
}
p {
  margin-block: 4px 8px;
}
</style>
