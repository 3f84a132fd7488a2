<script setup lang="ts">
/** A button. It submits a form only where it says so. */
</script>

<template>
  <button type="button"><slot /></button>
</template>
