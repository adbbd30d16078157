<script setup lang="ts">
import { computed, onBeforeUnmount, ref, watchEffect } from 'vue';
import { unixFromGps } from '@longheron/core/time';
import { objectJson } from '../../../api/client';
import { type MapShape } from '../../../map/shapes';
import { useProject } from '../../../stores/project';
import { useView } from '../../../stores/view';
import { useLoaded } from '../../../ui/loaded';
import NotLoaded from '../../../ui/NotLoaded.vue';
import OutOfDate from '../../../ui/OutOfDate.vue';
import TrailList from '../../../ui/TrailList.vue';
import { useBench } from '../bench';
import EventsForm from './EventsForm.vue';
import EventsTable from './EventsTable.vue';
import { type EventRow } from './rows';

/** Positions of events and the photographs that belong to them. */
const { shapes, dots } = useBench();
/** What turns GPS seconds of that day into seconds from 1970. */
const GPS_TO_UNIX_S = unixFromGps(1.4e9) - 1.4e9;
const store = useProject();
const view = useView();
// a list that was brought in is no result of events
const result = computed(() =>
  store
    .ofKind('positions')
    .filter((d) => d.stage === 'position')
    .at(-1),
);
const figures = computed(() => result.value?.revision.content.figures);
const lists = computed(() => store.ofKind('events'));
const table = useLoaded(() => result.value?.revision.content.table, objectJson<EventRow[]>, []);
const rows = table.value;
/** The map shows where the events were, and of those in the brushed span what the photographs show. */
watchEffect(() => {
  dots.value = rows.value.flatMap((r) =>
    r.xyz ? [{ eastingM: r.xyz[0], northingM: r.xyz[1], time: r.gps, counts: r.kept }] : [],
  );
  shapes.value = rows.value.flatMap((r): MapShape[] => {
    const inside = !view.brush || (r.gps >= view.brush[0] && r.gps <= view.brush[1]);
    return r.footprint && r.kept && inside
      ? [{ kind: 'area', points: r.footprint, colour: '#7a4b8c', widthPx: 1, dashed: r.cut }]
      : [];
  });
});
onBeforeUnmount(() => {
  dots.value = [];
  shapes.value = [];
});
const run = computed(() =>
  store.runs.find((r) => r.outputs.includes(result.value?.id ?? -1) && r.operation === 'events'),
);
const leftOut = computed(
  () => (run.value?.settings.leftOut as Array<{ event: number; reason: string }> | undefined) ?? [],
);
const form = ref<{ compute(over: boolean, leftOut: Array<{ event: number; reason: string }>): void } | null>(null);
const alone = computed(() => result.value?.revision.content.photosAlone ?? []);
/** GPS time as the file's clock would show it is 18 s off a clock set to UTC. */
const clockWords = computed(() => {
  const offS = Number(figures.value?.camera_clock_s) - GPS_TO_UNIX_S;
  return `the camera’s clock is ${Math.abs(offS).toFixed(1)} s ${offS < 0 ? 'behind' : 'ahead of'} UTC`;
});
</script>

<template>
  <h2>Events and photographs</h2>
  <p v-if="lists.length === 0" class="soft">
    No event list yet. Take one in, in the stage Gather: a CSV with gps_week, gps_sow and label.
  </p>
  <template v-else>
    <template v-if="result && figures">
      <p>
        <strong>{{ figures.positions }}</strong> of {{ figures.events }} events have a position, of
        <strong>{{ figures.point }}</strong>:
        {{
          figures.lever_arm_applied
            ? 'its lever arm is applied, once; do not apply it again.'
            : 'no lever arm is applied; the positions are of the trajectory’s own point.'
        }}
      </p>
      <p v-if="figures.photos !== undefined">
        {{ figures.photos_paired }} of {{ figures.photos }} photographs are paired with an event, by their
        {{ figures.photos_paired_by
        }}<template v-if="typeof figures.camera_clock_s === 'number'">; {{ clockWords }}</template
        >.
      </p>
      <p v-if="figures.footprints !== undefined">
        Ground at {{ figures.ground_m }} m: {{ figures.footprints }} footprints<template
          v-if="typeof figures.overlap_next_median === 'number'"
          >, {{ (100 * figures.overlap_next_median).toFixed(0) }} % shared with the next</template
        ><template v-if="typeof figures.overlap_side_median === 'number'"
          >, {{ (100 * figures.overlap_side_median).toFixed(0) }} % with another line</template
        ><template v-if="typeof figures.ground_sample_m === 'number'"
          >; a pixel is {{ (100 * figures.ground_sample_m).toFixed(1) }} cm in the middle</template
        ><template v-if="figures.footprints_cut"
          >; {{ figures.footprints_cut }} reach further than they are drawn</template
        >.
      </p>
      <p v-if="alone.length" class="state warn wrap">Without an event: {{ alone.join(', ') }}.</p>
      <OutOfDate :dataset="result" />
      <EventsTable
        :rows="rows"
        :left-out="leftOut"
        :footprints="!!figures.footprints"
        @leave="form?.compute(true, $event)"
      />
      <p class="files">
        <a :href="`/api/projects/${store.project!.id}/datasets/${result.id}/export/positions`">Positions as CSV</a>
      </p>
    </template>
    <NotLoaded what="The table of events" :of="table" />
    <EventsForm ref="form" :result="result" />
    <TrailList v-if="result" :dataset="result" />
  </template>
</template>

<style scoped>
.wrap {
  white-space: normal;
}
</style>
