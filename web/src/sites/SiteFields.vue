<script setup lang="ts">
import { runway, type TypedSite } from '@/sites/sites'

/** A field that a school flies from, with its runways, as it is typed. */
defineProps<{ at: number; surfaces: string[]; kept?: boolean }>()
const b = defineModel<TypedSite>({ required: true })
</script>

<template>
  <div class="fields">
    <div class="row">
      <label class="short"
        >Short name <input v-model="b.id" type="text" :disabled="kept" :name="`base-id-${at}`"
      /></label>
      <label class="grow">Name <input v-model="b.name" type="text" :name="`base-name-${at}`" /></label>
      <label class="short"
        >Elevation, ft
        <input v-model="b.elevationFt" type="text" inputmode="numeric" :name="`base-elevation-${at}`"
      /></label>
      <label class="short"
        >Variation, ° east
        <input v-model="b.variationDegEast" type="text" inputmode="decimal" :name="`base-variation-${at}`"
      /></label>
    </div>
    <div v-for="(r, n) in b.runways" :key="n" class="row">
      <label class="short">Runway <input v-model="r.name" type="text" :name="`runway-${at}-${n}`" /></label>
      <label class="short"
        >Heading, ° magnetic
        <input v-model="r.headingDegMagnetic" type="text" inputmode="numeric" :name="`heading-${at}-${n}`"
      /></label>
      <label class="short"
        >Length, m <input v-model="r.lengthM" type="text" inputmode="numeric" :name="`length-${at}-${n}`"
      /></label>
      <label class="short"
        >Surface
        <select v-model="r.surface" :name="`surface-${at}-${n}`">
          <option v-for="s in surfaces" :key="s" :value="s">{{ s }}</option>
        </select></label
      >
      <button v-if="b.runways.length > 1" type="button" class="quiet" @click="b.runways.splice(n, 1)">
        take off
      </button>
    </div>
    <button type="button" :data-more="`runway-${at}`" @click="b.runways.push(runway())">
      + another runway
    </button>
  </div>
</template>

<style scoped>
.fields {
  display: grid;
  gap: 10px;
  width: 100%;
}

.fields > button {
  justify-self: start;
}

.row {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 14px;
  align-items: end;
}

.short {
  flex: 0 1 150px;
}

.grow {
  flex: 1 1 220px;
}
</style>
