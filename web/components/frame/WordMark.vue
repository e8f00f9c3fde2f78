<template>
  <span class="mark">
    <svg viewBox="0 0 30 22" width="30" height="22" aria-hidden="true">
      <!-- a wrapped box seen from above, tied once round, its ribbon ending in a tag -->
      <rect x="1" y="3" width="20" height="16" rx="1.5" class="box" />
      <path d="M8 3v16M1 11h20" class="band" />
      <path d="M21 11h2.5l1.5-2.5h4v5h-4L23.500 11" class="tag" />
      <circle cx="26" cy="11" r="0.9" class="hole" />
    </svg>
    <span class="slab">Geschenk</span>
  </span>
</template>

<style scoped>
.mark {
  display: inline-flex;
  align-items: center;
  gap: 8px;
}
.slab {
  font-size: 1.1875rem;
  font-weight: 700;
  color: var(--ink);
}
.box {
  fill: var(--sunk);
  stroke: var(--ink);
  stroke-width: 1.4;
}
.band {
  stroke: var(--ribbon);
  stroke-width: 2.6;
  fill: none;
}
.tag {
  fill: var(--ribbon);
  stroke: var(--ribbon);
  stroke-width: 1;
  stroke-linejoin: round;
}
.hole {
  fill: var(--surface);
}
</style>
