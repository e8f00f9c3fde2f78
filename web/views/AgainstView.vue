<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { useActOnHolding, useAgainst, useBetween, useHoldAgainst } from '../api/against'
import BetweenStrips from '../components/backup/BetweenStrips.vue'
import ProgressLine from '../components/run/ProgressLine.vue'
import { isQuiet } from '../lib/between'
import { count, dateTime, phoneNumber } from '../lib/format'
import { say, word } from '../lib/say'

/** A backup held against an earlier one of the same account: what went, what came, what changed since. */
const route = useRoute()
const backup = computed(() => String(route.params['backup']))
const query = useAgainst(backup)
const here = computed(() => query.data.value)
const run = computed(() => here.value?.run ?? null)
const hold = useHoldAgainst(backup)
const act = useActOnHolding(backup)
const chosen = ref('')
const one = computed(() => here.value?.earlier.find((other) => other.of.id === chosen.value))
const madeAt = computed(() => one.value?.made_at ?? null)
const between = useBetween(backup, chosen, madeAt)
const result = computed(() => (madeAt.value === null ? undefined : between.data.value))
const rows = computed(() => result.value?.conversations.filter((row) => !isQuiet(row)) ?? [])
const quiet = computed(() => (result.value?.conversations.length ?? 0) - rows.value.length)
const failed = computed(() => hold.error.value?.message ?? act.error.value?.message ?? '')
const may = (what: 'go_on' | 'pause' | 'cancel'): boolean => run.value?.run.may.includes(what) ?? false
/** The one that is worked with, or was held against last, or the newest. */
watch(
  here,
  (now) => {
    if (now === undefined || now.earlier.some((other) => other.of.id === chosen.value)) return
    const made = now.earlier.find((other) => other.made_at !== null)
    chosen.value = now.run?.earlier ?? (made ?? now.earlier[0])?.of.id ?? ''
  },
  { immediate: true },
)
const changes = (row: { aspects: unknown; settings: string[] }): string =>
  [
    ...Object.entries(row.aspects as Record<string, number>).map(
      ([aspect, n]) => `${word('aspect', aspect)} ${count(n)}`,
    ),
    ...(row.settings.length > 0
      ? [say('against.settings', { list: row.settings.map((name) => word('aspect', name)).join(', ') })]
      : []),
  ].join(', ')
</script>

<template>
  <div class="page wide one">
    <RouterLink :to="`/cupboard/${backup}`" class="soft">‹ {{ here?.of.customer ?? say('cupboard.back') }}</RouterLink>
    <header>
      <h1>{{ say('against.title') }}</h1>
      <p class="soft">
        {{ say('against.about') }}
        <template v-if="here">{{
          say('cupboard.of', { edition: here.of.edition, at: dateTime(here.of.taken_at) })
        }}</template>
      </p>
    </header>
    <p v-if="here === undefined && query.error.value" class="trouble" role="alert">{{ query.error.value.message }}</p>
    <p v-else-if="here === undefined" class="soft" role="status">{{ say('against.looking') }}</p>
    <p v-else-if="here.earlier.length === 0" class="sheet pad" role="status">{{ say('against.none') }}</p>
    <template v-else>
      <section class="sheet pad part">
        <v-radio-group v-model="chosen" :label="say('against.which')" hide-details>
          <v-radio
            v-for="other in here.earlier"
            :key="other.of.id"
            :value="other.of.id"
            :label="
              say('against.one', {
                at: dateTime(other.of.taken_at),
                tray: other.of.tray,
                messages: other.of.messages,
              })
            "
          />
        </v-radio-group>
        <template v-if="run">
          <p v-if="run.run.trouble" role="status">{{ run.run.trouble }}</p>
          <ProgressLine v-else :progress="run.run.progress" />
        </template>
        <div class="acts">
          <template v-if="run">
            <v-btn v-if="may('go_on')" class="next" @click="act.mutate({ id: run.run.id, act: 'go-on' })">{{
              say('keeping.go_on')
            }}</v-btn>
            <v-btn v-if="may('pause')" @click="act.mutate({ id: run.run.id, act: 'pause' })">{{
              say('tray.pause')
            }}</v-btn>
            <v-btn v-if="may('cancel')" variant="text" @click="act.mutate({ id: run.run.id, act: 'cancel' })">{{
              say('place.cancel')
            }}</v-btn>
          </template>
          <v-btn
            v-else-if="one"
            :class="{ next: madeAt === null }"
            :variant="madeAt === null ? 'flat' : 'text'"
            :disabled="here.is_locked || one.is_locked"
            :loading="hold.isPending.value"
            @click="hold.mutate(one.of.id)"
            >{{ say(madeAt === null ? 'against.begin' : 'against.again') }}</v-btn
          >
          <span v-if="one && (here.is_locked || one.is_locked)" class="soft small">{{ say('against.locked') }}</span>
        </div>
        <p v-if="failed !== ''" class="trouble" role="alert">{{ failed }}</p>
      </section>
      <p v-if="madeAt !== null && between.error.value" class="soft" role="status">
        {{ say('against.gone_meanwhile') }}
      </p>
      <template v-if="result && one">
        <div role="status">
          <h2>
            {{ say('against.between', { earlier: dateTime(one.of.taken_at), later: dateTime(here.of.taken_at) }) }}
          </h2>
          <p class="sum">
            <b v-for="fate in ['same', 'changed', 'went', 'came'] as const" :key="fate" :class="fate">{{
              say(`between.${fate}`, { n: count(result.totals[fate]) })
            }}</b>
          </p>
        </div>
        <p v-if="rows.length === 0" class="sheet pad">✓ {{ say('against.nothing') }}</p>
        <template v-else>
          <BetweenStrips :rows="rows.slice(0, 40)" :all="result.conversations" />
          <div class="sheet">
            <table class="plain">
              <thead>
                <tr>
                  <th scope="col">{{ say('against.conversation') }}</th>
                  <th v-for="fate in ['went', 'came', 'changed', 'same'] as const" :key="fate" scope="col" class="n">
                    {{ say(`between.is_${fate}`) }}
                  </th>
                  <th scope="col">{{ say('against.what_changed') }}</th>
                </tr>
              </thead>
              <tbody>
                <tr v-for="(row, n) in rows" :key="n">
                  <td>{{ row.title === null ? say('app.untitled') : phoneNumber(row.title) }}</td>
                  <td class="n" :class="{ went: row.went > 0 }">{{ count(row.went) }}</td>
                  <td class="n">{{ count(row.came) }}</td>
                  <td class="n">{{ count(row.changed) }}</td>
                  <td class="n soft">{{ count(row.same) }}</td>
                  <td class="soft small what">{{ changes(row) }}</td>
                </tr>
              </tbody>
            </table>
          </div>
        </template>
        <p v-if="quiet > 0 && rows.length > 0" class="soft small">✓ {{ say('against.quiet', { count: quiet }) }}</p>
      </template>
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
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2);
  align-items: center;
}
.sum {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-4);
}
.sum .same {
  color: var(--soft);
}
.sum .changed {
  color: var(--changed);
}
.went {
  color: var(--missing);
  font-weight: 600;
}
.sum .came {
  color: var(--arrived);
}
th.n,
td.n {
  text-align: right;
}
td,
.what {
  overflow-wrap: anywhere;
}
</style>
