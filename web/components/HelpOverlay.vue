<script setup lang="ts">
const open = defineModel<boolean>({ required: true })
const keys: [string, string][] = [
  ['1 … 9', 'to the tray in that place of the strip'],
  ['0', 'to the shelf'],
  ['n', 'new tray'],
  ['s', 'stand-in desk'],
  ['u', 'uncover or cover the conversation that is open; uncovering is logged'],
  ['g', 'go to a day in the conversation that is open'],
  ['?', 'this list'],
  ['Esc', 'close what is open'],
]
</script>

<template>
  <v-dialog v-model="open" aria-labelledby="help-title">
    <div class="sheet pad help">
      <h2 id="help-title">Keys</h2>
      <table class="plain">
        <tbody>
          <tr v-for="[key, what] in keys" :key="key">
            <td class="key">
              <kbd>{{ key }}</kbd>
            </td>
            <td>{{ what }}</td>
          </tr>
        </tbody>
      </table>
      <p class="soft small">
        Single keys work while no field has the cursor. Tab moves through everything, Enter presses.
      </p>
      <v-btn @click="open = false">Close</v-btn>
    </div>
  </v-dialog>
</template>

<style scoped>
.help {
  display: grid;
  gap: var(--gap-3);
  justify-items: start;
}
.key {
  width: 90px;
}
kbd {
  font-family: var(--sans);
  font-weight: 650;
}
</style>
