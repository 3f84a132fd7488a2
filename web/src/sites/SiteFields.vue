<script setup lang="ts">
import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import AppSelect from '@/base/AppSelect.vue'
import { runway, type TypedSite } from '@/sites/sites'

/** A field that a school flies from, with its runways, as it is typed. */
defineProps<{ at: number; surfaces: string[]; kept?: boolean }>()
const b = defineModel<TypedSite>({ required: true })
</script>

<template>
  <div class="fields">
    <div class="row">
      <label class="short"
        >Short name <AppInput v-model="b.id" type="text" :disabled="kept" :name="`base-id-${at}`"
      /></label>
      <label class="grow">Name <AppInput v-model="b.name" type="text" :name="`base-name-${at}`" /></label>
      <label class="short"
        >Elevation, ft
        <AppInput v-model="b.elevationFt" type="text" inputmode="numeric" :name="`base-elevation-${at}`"
      /></label>
      <label class="short"
        >Variation, ° east
        <AppInput v-model="b.variationDegEast" type="text" inputmode="decimal" :name="`base-variation-${at}`"
      /></label>
    </div>
    <div v-for="(r, n) in b.runways" :key="n" class="row">
      <label class="short"
        >Runway <AppInput v-model="r.name" type="text" :name="`runway-${at}-${n}`"
      /></label>
      <label class="short"
        >Heading, ° magnetic
        <AppInput v-model="r.headingDegMagnetic" type="text" inputmode="numeric" :name="`heading-${at}-${n}`"
      /></label>
      <label class="short"
        >Length, m <AppInput v-model="r.lengthM" type="text" inputmode="numeric" :name="`length-${at}-${n}`"
      /></label>
      <label class="short"
        >Surface
        <AppSelect v-model="r.surface" :name="`surface-${at}-${n}`">
          <option v-for="s in surfaces" :key="s" :value="s">{{ s }}</option>
        </AppSelect></label
      >
      <AppButton v-if="b.runways.length > 1" class="quiet" @click="b.runways.splice(n, 1)">
        take off
      </AppButton>
    </div>
    <AppButton :data-more="`runway-${at}`" @click="b.runways.push(runway())"> + another runway </AppButton>
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
