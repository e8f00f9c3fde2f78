<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import { phoneNumber } from '../../lib/format'
import { say } from '../../lib/say'
import { platformWord } from '../../lib/words'

/** A phone that lies on the bench and may be given a role: what it says of itself, for nobody has looked into it. */
const props = defineProps<{
  live: Schemas['Live']
  role: Schemas['Role'] | null
  /** where the phone has no choice of a role */
  only?: Schemas['Role'] | undefined
}>()
const emit = defineEmits<{ give: []; receive: [] }>()
const name = computed(() => `${props.live.maker} ${props.live.model}`)
</script>

<template>
  <article class="sheet phone" :class="role" :aria-label="name">
    <div class="name">
      <b>{{ name }}</b>
      <span class="soft small"
        >{{ platformWord(live.platform) }} <bdi>{{ live.os_version }}</bdi> · {{ live.serial }}</span
      >
    </div>
    <div class="holds">
      <template v-if="live.accounts && live.accounts.length > 0">
        <div v-for="a in live.accounts" :key="a.app">
          <p>
            <b>{{ a.edition }}</b>
            <span class="soft small">&nbsp;{{ a.number ? phoneNumber(a.number) : say('phone.not_registered') }}</span>
          </p>
          <p v-if="!a.known" class="soft small">{{ say('phone.unknown_app', { name: a.edition }) }}</p>
        </div>
      </template>
      <template v-else>
        <p>{{ live.accounts === null ? say('phone.unreadable') : say('phone.no_app') }}</p>
        <p v-if="live.accounts === null" class="soft small">
          {{ say(live.plugged ? 'phone.silent' : 'phone.not_connected') }}
        </p>
      </template>
    </div>
    <div class="buttons">
      <v-btn v-if="only !== 'receives'" :aria-pressed="role === 'gives'" class="gives" @click="emit('give')">{{
        say(only ? 'phone.this_one' : 'phone.gives')
      }}</v-btn>
      <v-btn v-if="only !== 'gives'" :aria-pressed="role === 'receives'" class="receives" @click="emit('receive')">{{
        say(only ? 'phone.this_one' : 'phone.receives')
      }}</v-btn>
    </div>
  </article>
</template>

<style scoped>
.phone {
  display: grid;
  grid-template-columns: minmax(180px, 0.8fr) minmax(220px, 1fr) auto;
  gap: var(--gap-4);
  align-items: center;
  padding: var(--gap-3) var(--gap-4);
  border-left: 5px solid var(--line);
}
.phone.gives {
  border-left-color: var(--gives);
}
.phone.receives {
  border-left-color: var(--receives);
}
.name {
  display: flex;
  flex-direction: column;
}
.buttons {
  display: flex;
  gap: 6px;
}
.v-btn.gives {
  color: var(--gives);
}
.v-btn.receives {
  color: var(--receives);
}
.v-btn.gives[aria-pressed='true'] {
  background: var(--gives);
  color: var(--background);
}
.v-btn.receives[aria-pressed='true'] {
  background: var(--receives);
  color: var(--background);
}
.holds {
  display: grid;
  gap: 4px;
  min-width: 0;
}
</style>
