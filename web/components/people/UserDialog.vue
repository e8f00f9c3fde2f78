<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { Schemas } from '../../api/client'
import { useAddUser, useGivePassword } from '../../api/people'
import { say } from '../../lib/say'
import PasswordField from './PasswordField.vue'
import { vBeginHere } from '../../lib/focus'

/** Adds a user, or gives one that is told another password. Who asks shows with their own that they are still there. */
const props = defineProps<{ user: Schemas['User'] | null }>()
const open = defineModel<boolean>({ required: true })
const add = useAddUser()
const give = useGivePassword()
const name = ref('')
const displayName = ref('')
const role = ref<Schemas['UserRole']>('technician')
const password = ref('')
const again = ref('')
const own = ref('')
const differs = ref('')
const act = computed(() => (props.user === null ? add : give))
const roles = computed(() => [
  { value: 'technician', title: say('users.technician_may') },
  { value: 'manager', title: say('users.manager_may') },
  { value: 'wall', title: say('users.wall_may') },
])
const trouble = computed(() => differs.value || act.value.error.value?.message || '')
const isWhole = computed(
  () =>
    (props.user !== null || name.value.trim() !== '') && ![password, again, own].some((field) => field.value === ''),
)

/** Nothing that was typed stays behind a closed dialog. */
watch(open, () => {
  for (const field of [name, displayName, password, again, own, differs]) field.value = ''
  role.value = 'technician'
  add.reset()
  give.reset()
})

function go(): void {
  if (act.value.isPending.value || !isWhole.value) return
  differs.value = password.value === again.value ? '' : say('password.differs')
  if (differs.value !== '') return
  const told = { password: password.value, own_password: own.value }
  const done = { onSuccess: () => (open.value = false) }
  if (props.user === null) {
    add.mutate({ name: name.value.trim(), display_name: displayName.value.trim(), role: role.value, ...told }, done)
  } else give.mutate({ name: props.user.name, ...told }, done)
}
</script>

<template>
  <v-dialog v-model="open" aria-labelledby="user-title">
    <form class="sheet pad ask" autocomplete="off" @submit.prevent="go">
      <h2 id="user-title">
        {{ user === null ? say('users.add') : say('users.password_of', { name: user.display_name }) }}
      </h2>
      <p v-if="user !== null">{{ say('users.password_how') }}</p>
      <template v-else>
        <v-text-field
          v-model="name"
          v-begin-here
          :label="say('users.name')"
          :hint="say('users.name_hint')"
          maxlength="60"
          autocomplete="off"
          autocapitalize="none"
        />
        <v-text-field
          v-model="displayName"
          :label="say('users.display_name')"
          maxlength="120"
          autocomplete="off"
          hide-details
        />
        <v-select v-model="role" :items="roles" :label="say('users.role')" hide-details />
      </template>
      <PasswordField v-model="password" v-begin-here="user !== null" :label="say('users.password')" is-new />
      <PasswordField v-model="again" :label="say('users.again')" is-new />
      <PasswordField v-model="own" :label="say('users.own_password')" />
      <p v-if="trouble !== ''" class="trouble" role="alert">{{ trouble }}</p>
      <div class="buttons">
        <v-btn class="next" type="submit" :loading="act.isPending.value" :disabled="!isWhole">{{
          user === null ? say('users.add_go') : say('password.go')
        }}</v-btn>
        <v-btn variant="text" @click="open = false">{{ say('users.leave') }}</v-btn>
      </div>
    </form>
  </v-dialog>
</template>

<style scoped>
.ask {
  display: grid;
  gap: var(--gap-3);
  max-width: 460px;
}
.buttons {
  display: flex;
  gap: var(--gap-2);
}
</style>
