<script setup lang="ts">
import { computed, ref } from 'vue'
import { useActThere, useBringThere, useLeavePlace, useSecondPlace } from '../api/place'
import { useSession } from '../api/session'
import ProgressLine from '../components/run/ProgressLine.vue'
import { vBeginHere } from '../lib/focus'
import { bytes, count, dateTime } from '../lib/format'
import { say } from '../lib/say'

/** Where copies of all that is kept lie besides: whether they do, and what is under way. */
const query = useSecondPlace()
const session = useSession()
const place = computed(() => query.data.value)
const run = computed(() => place.value?.run ?? null)
const bring = useBringThere()
const act = useActThere()
const leave = useLeavePlace()
const asks = ref(false)
const isManager = computed(() => session.data.value?.user?.role === 'manager')
const missing = computed(() => (place.value === undefined ? 0 : place.value.kept - place.value.there))
/** Begun, and none of what is kept lies there alone on this computer. */
const isAll = computed(() => missing.value === 0 && place.value?.since !== null)
const share = computed(() =>
  place.value === undefined || place.value.kept === 0 ? 0 : (100 * place.value.there) / place.value.kept,
)
const failed = computed(
  () => bring.error.value?.message ?? act.error.value?.message ?? leave.error.value?.message ?? '',
)
const may = (what: 'go_on' | 'pause' | 'cancel'): boolean => run.value?.may.includes(what) ?? false

function doLeave(): void {
  leave.mutate(undefined, { onSettled: () => (asks.value = false) })
}
</script>

<template>
  <div class="page wide one">
    <RouterLink to="/cupboard" class="soft">‹ {{ say('cupboard.back') }}</RouterLink>
    <header>
      <h1>{{ say('place.title') }}</h1>
      <p class="soft">{{ say('place.about') }}</p>
    </header>
    <p v-if="place === undefined && query.error.value" class="trouble" role="alert">{{ query.error.value.message }}</p>
    <p v-else-if="place === undefined" class="soft" role="status">{{ say('place.looking') }}</p>
    <div v-else-if="!place.is_set" class="sheet pad part" role="status">
      <h2>{{ say('place.none') }}</h2>
      <p>{{ say('place.none_what', { count: place.kept }) }}</p>
      <p class="soft">{{ say('place.none_how') }}</p>
    </div>
    <template v-else>
      <p v-if="place.trouble" class="trouble" role="alert">{{ place.trouble }}</p>
      <section class="sheet pad part" :aria-label="say('place.stands')">
        <div class="head">
          <div role="status">
            <h2 class="verdict" :class="isAll ? 'all' : 'some'">
              <template v-if="place.since === null">{{ say('place.not_begun') }}</template>
              <template v-else-if="isAll">✓ {{ say('place.all', { count: place.kept }) }}</template>
              <template v-else>▲ {{ say('place.some', { count: missing, kept: place.kept }) }}</template>
            </h2>
          </div>
          <v-btn v-if="run === null" class="next" :loading="bring.isPending.value" @click="bring.mutate(undefined)">{{
            say('place.do')
          }}</v-btn>
        </div>
        <svg class="bar" viewBox="0 0 100 10" preserveAspectRatio="none" aria-hidden="true">
          <rect width="100" height="10" class="rest" />
          <rect :width="share" height="10" class="there" />
        </svg>
        <p v-if="missing > 0" class="soft small">
          <RouterLink :to="{ name: 'cupboard', query: { shown: 'alone' } }">{{ say('place.which') }}</RouterLink>
        </p>
        <p v-if="place.is_late" class="late" role="status">▲ {{ say('place.late') }}</p>
        <p v-if="place.to_erase > 0" class="late" role="status">
          ▲ {{ say('place.to_erase', { count: place.to_erase }) }}
        </p>
        <p v-if="place.not_whole > 0" class="broken" role="status">
          ✕ {{ say('place.not_whole', { count: place.not_whole }) }}
        </p>
        <p v-if="place.is_same_disk" class="late" role="status">▲ {{ say('place.same_disk') }}</p>
        <dl class="facts">
          <div>
            <dt>{{ say('place.where') }}</dt>
            <dd class="path">{{ place.label ?? '–' }}</dd>
          </div>
          <div>
            <dt>{{ say('place.since') }}</dt>
            <dd>{{ dateTime(place.since) }}</dd>
          </div>
          <div>
            <dt>{{ say('place.complete') }}</dt>
            <dd>{{ dateTime(place.complete_at) }}</dd>
          </div>
          <div>
            <dt>{{ say('place.backups') }}</dt>
            <dd>{{ count(place.there) }}</dd>
          </div>
          <div>
            <dt>{{ say('place.bytes') }}</dt>
            <dd>{{ bytes(place.bytes) }}</dd>
          </div>
          <div>
            <dt>{{ say('place.read') }}</dt>
            <dd>{{ dateTime(place.read_since) }}</dd>
          </div>
        </dl>
      </section>
      <section v-if="run" class="sheet pad part" :aria-label="say('place.under_way')">
        <p v-if="run.trouble" role="status">{{ run.trouble }}</p>
        <ProgressLine v-else :progress="run.progress" />
        <div class="acts">
          <v-btn
            v-if="may('go_on')"
            class="next"
            :loading="act.isPending.value"
            @click="act.mutate({ id: run.id, act: 'go-on' })"
            >{{ say('keeping.go_on') }}</v-btn
          >
          <v-btn v-if="may('pause')" :loading="act.isPending.value" @click="act.mutate({ id: run.id, act: 'pause' })">{{
            say('tray.pause')
          }}</v-btn>
          <v-btn v-if="may('cancel')" variant="text" @click="act.mutate({ id: run.id, act: 'cancel' })">{{
            say('place.cancel')
          }}</v-btn>
          <span class="soft small">{{ say('run.placing_cancel') }}</span>
        </div>
      </section>
      <p v-if="failed !== ''" class="trouble" role="alert">{{ failed }}</p>
      <p class="soft small">{{ say('place.how') }}</p>
      <p v-if="isManager && place.since !== null" class="leave">
        <v-btn variant="text" @click="asks = true">{{ say('place.leave') }}</v-btn>
      </p>
      <v-dialog v-model="asks" aria-labelledby="leave-title">
        <div class="sheet pad part">
          <h2 id="leave-title">{{ say('place.leave_title') }}</h2>
          <p>{{ say('place.leave_what', { place: place.label ?? '' }) }}</p>
          <div class="acts">
            <v-btn :loading="leave.isPending.value" @click="doLeave">{{ say('place.leave') }}</v-btn>
            <v-btn v-begin-here @click="asks = false">{{ say('tray.cancel_not') }}</v-btn>
          </div>
        </div>
      </v-dialog>
    </template>
  </div>
</template>

<style scoped>
.one,
.part {
  display: grid;
  gap: var(--gap-3);
  align-content: start;
}
.head,
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-3);
  align-items: center;
}
.head {
  justify-content: space-between;
}
.verdict.all {
  color: var(--arrived);
}
.verdict.some,
.late {
  color: var(--changed);
}
.late,
.broken {
  font-weight: 600;
}
.broken {
  color: var(--missing);
}
.bar {
  display: block;
  width: 100%;
  height: 12px;
  border-radius: 3px;
}
.rest {
  fill: var(--sunk);
}
.there {
  fill: var(--arrived);
}
.facts {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: var(--gap-3) var(--gap-4);
  margin: 0;
}
.facts dt {
  color: var(--soft);
  font-size: var(--t-small);
}
.facts dd {
  margin: 0;
}
.path {
  overflow-wrap: anywhere;
}
</style>
