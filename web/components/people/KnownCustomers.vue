<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { Schemas } from '../../api/client'
import { useKnownCustomers } from '../../api/customers'
import { date } from '../../lib/format'
import { say } from '../../lib/say'

/** Who has been here before under what is being typed: that it is the same person is said by whoever asks them. */
const props = defineProps<{ typed: string; known: Schemas['KnownCustomer'] | null }>()
const emit = defineEmits<{ choose: [one: Schemas['KnownCustomer'] | null] }>()

const FEWEST = 2
/** Milliseconds of rest before it is looked for. */
const CALM = 250
const words = ref('')
const isAsked = computed(() => props.known === null && words.value.length >= FEWEST)
const query = useKnownCustomers(words, isAsked)
const found = computed(() => (isAsked.value ? (query.data.value ?? []) : []))
watch(
  () => props.typed,
  (typed, _, onCleanup) => {
    const timer = setTimeout(() => (words.value = typed.trim()), CALM)
    onCleanup(() => clearTimeout(timer))
  },
  { immediate: true },
)
const seen = (one: Schemas['KnownCustomer']): string =>
  one.last_tray === null
    ? say('known.no_tray')
    : say('known.seen', { at: date(one.last_at), tray: one.last_tray, count: one.trays })
</script>

<template>
  <div v-if="known" class="known chosen" role="status">
    <p>
      <b>{{ say('known.again') }}</b> <span class="soft small">{{ seen(known) }}</span>
    </p>
    <v-btn variant="text" @click="emit('choose', null)">{{ say('known.not') }}</v-btn>
  </div>
  <div v-else-if="found.length > 0" class="known">
    <p class="soft small" role="status">{{ say('known.title') }}</p>
    <ul :aria-label="say('known.title')">
      <li v-for="one in found" :key="one.id">
        <button type="button" @click="emit('choose', one)">
          <span class="whom"
            ><b>{{ one.name }}</b> <span class="soft small">{{ one.contact }}</span></span
          >
          <span class="soft small">{{ seen(one) }}</span>
        </button>
      </li>
    </ul>
  </div>
</template>

<style scoped>
.known {
  border: 1px solid var(--line);
  border-radius: 6px;
  padding: var(--gap-2) var(--gap-3);
  display: grid;
  gap: var(--gap-2);
}
.known.chosen {
  border-left: 5px solid var(--ribbon);
  grid-template-columns: minmax(0, 1fr) auto;
  align-items: center;
}
.known ul {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
}
.known li + li {
  border-top: 1px solid var(--sunk);
}
.known li button {
  width: 100%;
  min-height: 44px;
  padding: 4px 0;
  text-align: start;
  background: none;
  border: 0;
  color: inherit;
  font: inherit;
  cursor: pointer;
  display: grid;
  overflow-wrap: anywhere;
}
.known li button:hover b {
  text-decoration: underline;
}
.whom {
  display: flex;
  flex-wrap: wrap;
  column-gap: var(--gap-2);
  align-items: baseline;
}
</style>
