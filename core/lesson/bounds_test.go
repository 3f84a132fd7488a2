package lesson_test

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/catalog"
	"jetprimer/core/form"
	"jetprimer/core/lesson"
)

// soundEvent is one that is taken in, with another kind and payload.
func soundEvent(kind, payload string) lesson.Event {
	return lesson.Event{
		ID: "01939c2a-0000-7000-8000-000000000001", Device: "d", Seq: 1, Counter: 1, AtMs: 1,
		Wall: "2026-11-24T10:00:00Z", Kind: kind, V: 1, Payload: json.RawMessage(payload),
	}
}

// TestEveryKindIsHeldToItsBounds: what a payload may not be is refused with the
// field that is wrong.
func TestEveryKindIsHeldToItsBounds(t *testing.T) {
	long, words := strings.Repeat("x", 65), strings.Repeat("x", 4001)
	for _, c := range []struct{ kind, payload, said string }{
		{"item-opened", `{}`, "payload.item must have 1 to 64 characters"},
		{"item-result", `{"item":"a","result":"maybe"}`, "payload.result must be done or wrong"},
		{
			"item-result", `{"item":"a","result":"done","value":"` + words + `"}`,
			"payload.value must be at most 4000 bytes",
		},
		{"item-result", `{"item":"` + long + `","result":"done"}`, "payload.item must have 1 to 64"},
		{"item-result", `{"item":7,"result":"done"}`, "payload.item must be a string, not a number"},
		{"prompt", `[]`, "payload"},
		{"prompt", `{"item":"a"`, "payload is not valid JSON"},
		{"late", `{"item":"a","found":"luck"}`, "payload.found must be verification or instructor"},
		{"error", `{"code":"no-such","severity":"slip"}`, `payload.code "no-such" is no kind of error`},
		{"error", `{"code":"wrong-limit","severity":"grave"}`, "payload.severity must be slip, wrong or unsafe"},
		{"reading", `{"check":"no-such","reading":{}}`, `payload.check "no-such" is no check`},
		{"reading", `{"check":"suction"}`, "payload.reading is missing"},
		{"reading", `{"check":"suction","engine":5,"reading":{}}`, "payload.engine must be 1 to 4"},
		{"finding", `{"words":"  "}`, "payload.words must say what was found"},
		{"finding", `{"words":"` + words + `"}`, "payload.words must be at most"},
		{"decision", `{"decision":"cleared"}`, "payload.about must name a reading or a finding"},
		{"decision", `{"about":"x","decision":"perhaps"}`, "payload.decision must be one of"},
		{"decision", `{"about":"x","decision":"cleared","why":"` + words + `"}`, "payload.why must be at most"},
		{"oral", `{"question":"q","level":5}`, "payload.level must be 0 to 4"},
		{"oral", `{"question":"q","level":1,"bank":"` + long + `"}`, "payload.elements are at most 16"},
		{"timer-started", `{"timer":""}`, "payload.timer must have 1 to 64 characters"},
		{"note", `{"words":""}`, "payload.words must not be empty"},
		{"hour-meter", `{"meter":"sundial","when":"start","value":1}`, "payload.meter"},
		{"hour-meter", `{"meter":"tacho","when":"noon","value":1}`, "payload.when must be start or end"},
		{"hour-meter", `{"meter":"tacho","when":"end","value":100000}`, "payload.value must be 0 to 99999 hours"},
		{"grade-override", `{"item":"a","level":-1,"reason":"r"}`, "payload.level must be 0 to 4"},
		{"grade-override", `{"item":"a","level":1,"reason":" "}`, "payload.reason must say why"},
		{"grade-override", `{"item":"a","level":1,"reason":"` + words + `"}`, "payload.reason must be at most"},
		{"undo", `{"targets":[]}`, "payload.targets must name 1 to 100 events"},
		{"phase-closed", `{}`, "payload.phase is missing"},
		{"sealed", `{"events":[],"signedBy":"x"}`, "payload.events and signedBy must be given"},
		{"sealed", `{"events":["a"],"hash":"0","signedBy":"x"}`, "payload.hash does not belong to the sealed events"},
		{"lesson-opened", `{}`, "payload.student must have 1 to 64 characters"},
		{"of-tomorrow", `{"a":`, "payload is not valid JSON"},
		{"of-tomorrow", strings.Repeat("[", 70) + strings.Repeat("]", 70), "payload nests deeper than 64 levels"},
		{"note", `{"words":"a\u0000b"}`, "payload.words may not hold the character NUL"},
		{"note", `{"words":"\ud800"}`, "payload.words holds half of a character"},
		{"note", "{\"words\":\"\xff\"}", "payload.words is not UTF-8 text"},
		{"decision", `{"about":"x","decision":"cleared","told":"a\u0000"}`, "payload.told may not hold"},
		{"item-result", `{"item":"a","result":"wrong","RESULT":"done"}`, "payload.RESULT stands there twice"},
		{"item-result", `{"item":"a","item":"b","result":"done"}`, "payload.item stands there twice"},
		{"item-result", `{"item":"a","RESULT":"done"}`, "payload.RESULT must be written result"},
		{"item-result", `{"item":"a","reſult":"done"}`, "payload.reſult must be written result"},
		{"reading", `{"check":"suction","reading":{"inHg":4.9,"INHG":5}}`, "payload.reading.INHG stands there twice"},
		{"of-tomorrow", `{"any":{"a":1,"A":2}}`, "payload.any.A stands there twice"},
		{"note", `{"words":"x","more":"` + strings.Repeat("y", 33<<10) + `"}`, "payload must be at most 32768 bytes"},
	} {
		err := soundEvent(c.kind, c.payload).Validate()
		assert.ErrorContains(t, err, c.said, "%s %.60s", c.kind, c.payload)
		var event form.Problem
		assert.ErrorAs(t, err, &event)
	}
	assert.NoError(t, soundEvent("of-tomorrow", `{"any":"thing"}`).Validate(),
		"what an older program does not know it keeps")
}

// TestEveryEnvelopeIsHeldToItsBounds: whoever sends it.
func TestEveryEnvelopeIsHeldToItsBounds(t *testing.T) {
	for _, c := range []struct {
		spoil func(*lesson.Event)
		said  string
	}{
		{func(e *lesson.Event) { e.ID = "1" }, "id must be a UUID of version 7"},
		{func(e *lesson.Event) { e.ID = strings.ToUpper(e.ID) }, "id must be a UUID"},
		{func(e *lesson.Event) { e.ID = strings.Replace(e.ID, "-7", "-4", 1) }, "id must be a UUID"},
		{func(e *lesson.Event) { e.ID = strings.Replace(e.ID, "-", "0", 1) }, "id must be a UUID"},
		{func(e *lesson.Event) { e.Device = "" }, "device must have 1 to 64 characters"},
		{func(e *lesson.Event) { e.Device = "a\x00" }, "device holds what is no text"},
		{func(e *lesson.Event) { e.Seq = 0 }, "seq must be 1 or more"},
		{func(e *lesson.Event) { e.Seq = 1 << 40 }, "seq must be 1 to 2147483648"},
		{func(e *lesson.Event) { e.Counter = 0 }, "counter must be 1 or more"},
		{func(e *lesson.Event) { e.Counter = 1 << 40 }, "counter must be 1 to 2147483648"},
		{func(e *lesson.Event) { e.AtMs = -1 }, "atMs must be 0 to a week"},
		{func(e *lesson.Event) { e.AtMs = 1 << 40 }, "atMs must be 0 to a week"},
		{func(e *lesson.Event) { e.Wall = strings.Repeat("2", 41) }, "wall must be a time"},
		{func(e *lesson.Event) { e.Kind = "" }, "kind must have 1 to 64"},
		{func(e *lesson.Event) { e.V = 0 }, "v must be 1 or more"},
	} {
		e := soundEvent("note", `{"words":"w"}`)
		require.NoError(t, e.Validate())
		c.spoil(&e)
		assert.ErrorContains(t, e.Validate(), c.said)
	}
}

// TestEventsAreReadAsTabletsSendThem: fields from tomorrow are passed over, what
// the server adds is taken out, and what is wrong is named.
func TestEventsAreReadAsTabletsSendThem(t *testing.T) {
	e, err := lesson.ParseEvent([]byte(`{"id":"x","device":"d","seq":1,"kind":"note","payload":{"words":"w"},"of-tomorrow":1,"by":"somebody","received":"then"}`))
	require.NoError(t, err)
	assert.Equal(t, []string{"x", "", ""}, []string{e.ID, e.By, e.Received})
	for text, said := range map[string]string{
		`{"seq":"one"}`:                "seq must be a",
		`{"seq":`:                      "event is not valid JSON",
		`{"device":"a\u0000"}`:         "device may not hold the character NUL",
		`{"payload":{"a":["\udc00"]}}`: "payload.a[0] holds half of a character",
		strings.Repeat("[", 200):       "event nests deeper than 64 levels",
	} {
		_, err := lesson.ParseEvent([]byte(text))
		assert.ErrorContains(t, err, said)
	}
}

// shelf is the catalog as a lesson finds its versions in it.
type shelf struct{ *catalog.Catalog }

func (s shelf) Scale(id string) (lesson.Scale, bool) {
	return lesson.Scale{ID: id}, id == "five"
}

// TestALessonIsOpenedFromItsEvents: by the event that is named, or the first by
// order; never by a second one, and never on what the shelf does not hold.
func TestALessonIsOpenedFromItsEvents(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	opening := func(n int, student, scale string, version int) lesson.Event {
		return lesson.Event{ID: fmt.Sprintf("01939c2a-0000-7000-8000-%012x", n), Device: "d", Seq: int64(n),
			Counter: int64(n), Kind: lesson.KindOpened, V: 1,
			Payload: json.RawMessage(fmt.Sprintf(`{"student":%q,"instructor":"i","aircraft":"a","aircraftType":"alder-110","typeVersion":%d,"list":"alder-110-full","listVersion":%d,"method":"read-and-do","scale":%q,"purpose":"training"}`,
				student, c.Types[0].Version, version, scale))}
	}
	list, _ := c.ListFor("alder-110")
	typ, _ := c.Type("alder-110")
	first, second := opening(1, "Moreau", "five", list.Version), opening(2, "Brandt", "five", list.Version)
	if typ.Version != c.Types[0].Version {
		t.Skip("the first shipped type is no longer the one of the list")
	}
	for _, arrival := range [][]lesson.Event{{first, second}, {second, first}} {
		l, err := lesson.Open(shelf{c}, arrival, "")
		require.NoError(t, err)
		assert.Equal(t, "Moreau", l.State().Opened.Student, "the first by order")
		l, err = lesson.Open(shelf{c}, arrival, second.ID)
		require.NoError(t, err)
		assert.Equal(t, "Brandt", l.State().Opened.Student, "the one that is named, whatever its counter")
	}
	for said, events := range map[string][]lesson.Event{
		"do not hold the event that opens the lesson": {soundEvent("note", `{"words":"w"}`)},
		"scale no-such is not known":                  {opening(1, "Moreau", "no-such", list.Version)},
		"is not known":                                {opening(1, "Moreau", "five", 9999)},
		"payload.student must have":                   {opening(1, "", "five", 1)},
	} {
		_, err := lesson.Open(shelf{c}, events, "")
		assert.ErrorContains(t, err, said)
	}
}
