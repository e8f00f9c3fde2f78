<script setup lang="ts">
import { say } from '../lib/say'
</script>

<template>
  <div class="pad">
    <h1>{{ say('nowhere.title') }}</h1>
    <p>
      {{ say('nowhere.how') }} <RouterLink to="/">{{ say('app.to_shelf') }}</RouterLink>
    </p>
  </div>
</template>
