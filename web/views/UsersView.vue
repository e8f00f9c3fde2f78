<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '../api/client'
import { useEndSession, useLetSignIn, useUsers } from '../api/people'
import { useSession } from '../api/session'
import SignInList from '../components/people/SignInList.vue'
import UserDialog from '../components/people/UserDialog.vue'
import { say } from '../lib/say'

const users = useUsers()
const session = useSession()
const letSignIn = useLetSignIn()
const end = useEndSession()
const isAsking = ref(false)
const asked = ref<Schemas['User'] | null>(null)
const leaving = ref<Schemas['User'] | null>(null)

function ask(user: Schemas['User'] | null): void {
  asked.value = user
  isAsking.value = true
}
function leave(user: Schemas['User']): void {
  letSignIn.mutate({ name: user.name, disabled: true }, { onSuccess: () => (leaving.value = null) })
}
const roles = computed(() => ({
  technician: say('users.technician'),
  manager: say('users.manager'),
  wall: say('users.wall'),
}))
const isOwn = (user: Schemas['User']): boolean => user.name === session.data.value?.user?.name
</script>

<template>
  <section class="page">
    <div class="head">
      <h1>{{ say('users.title') }}</h1>
      <v-btn class="next" @click="ask(null)">{{ say('users.add') }}</v-btn>
    </div>
    <p class="soft">{{ say('users.about') }}</p>
    <p v-if="users.data.value === undefined && !users.error.value" role="status">{{ say('users.reading') }}</p>
    <p v-else-if="users.data.value === undefined" class="trouble" role="alert">{{ users.error.value?.message }}</p>
    <div v-else class="sheet">
      <p v-if="end.error.value" class="trouble" role="alert">{{ end.error.value.message }}</p>
      <p v-if="letSignIn.error.value && leaving === null" class="trouble" role="alert">
        {{ letSignIn.error.value.message }}
      </p>
      <table class="plain">
        <thead>
          <tr>
            <th scope="col">{{ say('users.who') }}</th>
            <th scope="col">{{ say('users.role') }}</th>
            <th scope="col">{{ say('users.now') }}</th>
            <th scope="col">
              <span class="sr">{{ say('users.acts') }}</span>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="user in users.data.value" :key="user.name" :class="{ out: user.disabled }">
            <td>
              <b class="told">{{ user.display_name }}</b>
              <span class="soft small">{{ user.name }}</span>
            </td>
            <td>{{ roles[user.role] }}</td>
            <td>
              <span v-if="user.disabled">{{ say('users.out') }}</span>
              <span v-else-if="user.sessions.length === 0" class="soft">{{ say('users.nowhere') }}</span>
              <SignInList
                v-else
                :sessions="user.sessions"
                :name="user.display_name"
                :busy="end.isPending.value"
                @end="end.mutate({ name: user.name, number: $event })"
              />
            </td>
            <td>
              <div v-if="isOwn(user)" class="soft small">{{ say('users.own') }}</div>
              <div v-else class="acts">
                <v-btn v-if="!user.disabled" @click="ask(user)">{{ say('users.another') }}</v-btn>
                <v-btn v-if="!user.disabled" @click="leaving = user">{{ say('users.leaves') }}</v-btn>
                <v-btn
                  v-else
                  :loading="letSignIn.isPending.value"
                  @click="letSignIn.mutate({ name: user.name, disabled: false })"
                  >{{ say('users.back') }}</v-btn
                >
              </div>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <UserDialog v-model="isAsking" :user="asked" />
    <v-dialog
      :model-value="leaving !== null"
      aria-labelledby="leaving-title"
      @update:model-value="(is: boolean) => is || (leaving = null)"
    >
      <div v-if="leaving !== null" class="sheet pad leaving">
        <h2 id="leaving-title">{{ say('users.leaves_ask', { name: leaving.display_name }) }}</h2>
        <p>{{ say('users.leaves_how', { sessions: leaving.sessions.length }) }}</p>
        <p v-if="letSignIn.error.value" class="trouble" role="alert">{{ letSignIn.error.value.message }}</p>
        <div class="acts">
          <v-btn :loading="letSignIn.isPending.value" @click="leave(leaving)">{{ say('users.leaves_go') }}</v-btn>
          <v-btn variant="text" @click="leaving = null">{{ say('users.leave') }}</v-btn>
        </div>
      </div>
    </v-dialog>
  </section>
</template>

<style scoped>
.head {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: var(--gap-4);
}
td:first-child {
  width: 240px;
}
td:first-child .soft {
  display: block;
}
td:nth-child(2) {
  width: 120px;
}
.out b {
  text-decoration: line-through;
  font-weight: 400;
}
.acts {
  display: flex;
  justify-content: flex-end;
  gap: var(--gap-2);
}
td:last-child {
  text-align: right;
}
.leaving {
  display: grid;
  gap: var(--gap-3);
}
.leaving .acts {
  justify-content: flex-start;
}
</style>
