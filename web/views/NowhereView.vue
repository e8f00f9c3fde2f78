<template>
  <div class="pad">
    <h1>There is nothing here</h1>
    <p>The address names no page. <RouterLink to="/">To the shelf</RouterLink></p>
  </div>
</template>
