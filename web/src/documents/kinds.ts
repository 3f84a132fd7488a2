// The kinds of documents: how each is written, read, looked through and exported. A new
// kind is an entry here.
import { defineAsyncComponent, type Component } from 'vue'

import type {
  Aid,
  AircraftType,
  DeskView,
  Layer,
  List,
  Pack,
  Policy,
  Problem,
  Schemas,
  Version,
} from '@/schema/schemas'

export type Doc = List | Layer | Aid | AircraftType | Policy | Pack
/** A document as it is shown, with what stands around it. */
export type Shown<D extends Doc = Doc> = {
  doc: D
  meta: Version
  versions: Version[]
  problems: Problem[]
  readonly: boolean
  writer: boolean
  busy: boolean
  dirty: boolean
  /** What serves its aircraft type; of a document of no type nothing. */
  desk: DeskView | null
}
/** The same of a document of an aircraft type. */
type OfType<D extends Doc> = Shown<D> & { desk: DeskView }

/** One way of looking at a document. */
export type View = {
  id: string
  words: string
  component: Component
  props: (shown: Shown) => object
  /** Whether there is anything to look at; always where it does not say. */
  when?: (shown: Shown) => boolean
  /** It is read beside another version, which is chosen. */
  beside?: boolean
  /** What it emits: a change of the document, or the pages that were compared. */
  emits?: 'change' | 'confirm'
}
export type Kind = {
  /** The first is where it is written. */
  views: View[]
  /** Where one comes from to a document of no aircraft type. */
  home?: string
  /** What the rules look through for mistakes; some kinds say of themselves what they lack. */
  checked?: (shown: OfType<Doc>) => Schemas['Document']
  /** It is reviewed page by page, and not at one touch. */
  byPages?: boolean
}

/** A view of one kind of document, its props by the document's own type. */
function view<D extends Doc>(
  of: Omit<View, 'props' | 'when'> & {
    props: (shown: OfType<D>) => object
    when?: (shown: OfType<D>) => boolean
  },
): View {
  return of as unknown as View
}

const ListEditor = defineAsyncComponent(() => import('@/lists/ListEditor.vue'))
const LayerEditor = defineAsyncComponent(() => import('@/lists/LayerEditor.vue'))
const AidEditor = defineAsyncComponent(() => import('@/lists/AidEditor.vue'))
const DifferenceList = defineAsyncComponent(() => import('@/lists/DifferenceList.vue'))
const FlownPreview = defineAsyncComponent(() => import('@/lists/FlownPreview.vue'))
const TrainedPanel = defineAsyncComponent(() => import('@/lists/TrainedPanel.vue'))
const PagesPanel = defineAsyncComponent(() => import('@/types/PagesPanel.vue'))
const TypeBuilder = defineAsyncComponent(() => import('@/types/TypeBuilder.vue'))
const TypeSheet = defineAsyncComponent(() => import('@/types/TypeSheet.vue'))
const CoverageView = defineAsyncComponent(() => import('@/standards/CoverageView.vue'))
const EditionsPanel = defineAsyncComponent(() => import('@/standards/EditionsPanel.vue'))
const PackCoverage = defineAsyncComponent(() => import('@/standards/PackCoverage.vue'))
const PackEditor = defineAsyncComponent(() => import('@/standards/PackEditor.vue'))
const PolicyEditor = defineAsyncComponent(() => import('@/policy/PolicyEditor.vue'))
const PolicyPreview = defineAsyncComponent(() => import('@/policy/PolicyPreview.vue'))

/** What is written, which is read where it is not a draft of one's own. */
const written = { id: 'text', words: 'Write', emits: 'change' } as const
/** Who has been trained on it, once a version of it has served. */
const trained: View = {
  id: 'trained',
  words: 'Who knows it',
  component: TrainedPanel,
  props: ({ meta }) => ({ id: meta.id, kind: meta.kind }),
  when: ({ meta, versions, writer }) =>
    writer &&
    versions.some(
      (v) => v.kind === meta.kind && v.id === meta.id && !['draft', 'reviewed'].includes(v.standing),
    ),
}

export const kinds: Record<string, Kind> = {
  list: {
    views: [
      view<List>({
        ...written,
        component: ListEditor,
        props: ({ doc, desk, problems, readonly }) => ({ list: doc, desk, problems, readonly }),
      }),
      view<List>({
        id: 'coverage',
        words: 'Coverage',
        component: CoverageView,
        emits: 'change',
        props: ({ doc, desk, readonly }) => ({ list: doc, type: desk.type, readonly }),
      }),
      view<List>({
        id: 'flown',
        words: 'As flown',
        component: FlownPreview,
        props: ({ doc, desk }) => ({ list: doc, layers: desk.layers, desk }),
      }),
      view<List>({
        id: 'differences',
        words: 'Differences',
        component: DifferenceList,
        props: ({ doc }) => ({ list: doc }),
        beside: true,
      }),
      trained,
    ],
    checked: ({ doc, desk }) => ({ surroundings: desk.surroundings, list: doc as List }),
  },
  layer: {
    views: [
      view<Layer>({
        ...written,
        component: LayerEditor,
        props: ({ doc, desk, problems, readonly }) => ({ layer: doc, desk, problems, readonly }),
      }),
      view<Layer>({
        id: 'flown',
        words: 'As flown',
        component: FlownPreview,
        // It is laid over the list that serves, in the place of its own earlier version.
        props: ({ doc, desk }) => ({
          list: desk.lists[0],
          layers: [...desk.layers.filter((l) => l.id !== doc.id), doc],
          desk,
        }),
        when: ({ desk }) => desk.lists.length > 0,
      }),
      trained,
    ],
    checked: ({ doc, desk }) => ({ surroundings: desk.surroundings, layer: doc as Layer }),
  },
  aid: {
    views: [
      view<Aid>({
        ...written,
        component: AidEditor,
        props: ({ doc, desk, problems, readonly }) => ({ aid: doc, desk, problems, readonly }),
      }),
    ],
    checked: ({ doc, desk }) => ({ surroundings: desk.surroundings, aid: doc as Aid, list: desk.lists[0] }),
  },
  type: {
    views: [
      view<AircraftType>({
        ...written,
        component: TypeBuilder,
        props: ({ doc, versions, readonly }) => ({ type: doc, versions, readonly }),
        when: ({ doc }) => !!doc.handbook,
      }),
      view<AircraftType>({
        ...written,
        emits: undefined,
        component: TypeSheet,
        props: ({ doc }) => ({ type: doc }),
        when: ({ doc }) => !doc.handbook,
      }),
      view<AircraftType>({
        id: 'pages',
        words: 'Page by page',
        component: PagesPanel,
        emits: 'confirm',
        props: ({ doc, meta, writer, busy }) => ({ type: doc, meta, writer, busy }),
        when: ({ doc }) => !!doc.handbook,
      }),
    ],
    byPages: true,
  },
  policy: {
    views: [
      view<Policy>({
        ...written,
        component: PolicyEditor,
        props: ({ doc, meta, readonly }) => ({ policy: doc, version: meta.version, readonly }),
      }),
      view<Policy>({
        id: 'moves',
        words: 'Whom it moves',
        component: PolicyPreview,
        props: ({ meta, dirty }) => ({ version: meta.version, dirty }),
      }),
    ],
    home: '/policy',
  },
  pack: {
    views: [
      view<Pack>({
        ...written,
        component: PackEditor,
        props: ({ doc, readonly }) => ({ pack: doc, readonly }),
      }),
      view<Pack>({
        id: 'coverage',
        words: 'Coverage',
        component: PackCoverage,
        props: ({ doc }) => ({ pack: doc }),
      }),
      view<Pack>({
        id: 'differences',
        words: 'Beside another edition',
        component: EditionsPanel,
        emits: 'change',
        props: ({ doc, readonly }) => ({ pack: doc, readonly }),
        beside: true,
      }),
    ],
    home: '/standards',
  },
}
