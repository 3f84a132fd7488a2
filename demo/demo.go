// Package demo makes the invented school that the demo shows: months of signed
// lessons, made through the same rules and the same store as real ones. The
// same day gives the same school.
package demo

import (
	"context"
	"encoding/json"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"time"

	"jetprimer/catalog"
	"jetprimer/core/access"
	"jetprimer/core/aircraft"
	"jetprimer/core/checklist"
	"jetprimer/core/lesson"
	"jetprimer/store"
)

// Fleet is the demo school's aircraft, at its two bases.
var Fleet = []store.Aircraft{
	{Registration: "QZ-AAA", Type: "alder-110", Base: "XTHW", ElevationFt: 412,
		Equipment: store.IDs{"second-altimeter"}},
	{
		Registration: "QZ-AAB", Type: "alder-110", Base: "XTHW", ElevationFt: 412,
		Equipment: store.IDs{"carbon-monoxide-alarm"},
	},
	{Registration: "QZ-AAC", Type: "alder-110", Base: "XTHW", ElevationFt: 412, Equipment: store.IDs{}},
	{
		Registration: "QZ-AAD", Type: "rowan-180i", Base: "XTHW", ElevationFt: 412,
		Equipment: store.IDs{"autopilot", "cylinder-monitor"},
	},
	{
		Registration: "QZ-AAE", Type: "sorrel-100", Base: "XTHW", ElevationFt: 412,
		Equipment: store.IDs{"rescue-parachute"},
	},
	{
		Registration: "QZ-AAF", Type: "hornbeam-twin", Base: "XTHW", ElevationFt: 412,
		Equipment: store.IDs{"autopilot", "unfeathering-accumulators"},
	},
	{
		Registration: "QZ-AAG", Type: "larch-d2", Base: "XSTB", ElevationFt: 18,
		Equipment: store.IDs{"autopilot", "ice-protection"},
	},
	{
		Registration: "QZ-AAH", Type: "juniper-h2", Base: "XSTB", ElevationFt: 18,
		Equipment: store.IDs{"hydraulic-controls"},
	},
	{
		Registration: "QZ-AAI", Type: "willow-t5", Base: "XSTB", ElevationFt: 18,
		Equipment: store.IDs{"particle-separator"},
	},
}

// Load fills an empty database with the demo school as of a day, and with the
// lessons of its past. The school's clocks are those of the day's zone. hash is
// the password hash of everybody.
func Load(ctx context.Context, s *store.Store, c *catalog.Catalog, day time.Time, hash string) error {
	if err := Begin(ctx, s, c, day, hash); err != nil {
		return err
	}
	day = midnight(day)
	m := &maker{catalog: c, tenths: map[string]int{}}
	if err := keepAll(ctx, s, day, m.flights(day), 8, func(int) {}); err != nil {
		return err
	}
	_, err := s.FollowPolicy(ctx, SchoolID, day)
	return err
}

// createdBefore is how many days before it was loaded the demo school was begun.
const createdBefore = 600

// keepAll makes flights and brings them into the store, so many at a time.
func keepAll(ctx context.Context, s *store.Store, day time.Time, flights []*flight, atOnce int,
	done func(n int)) error {
	n := 0
	for some := range slices.Chunk(flights, atOnce) {
		if err := s.In(ctx, SchoolID, func(_ context.Context, tx *store.Tx) error {
			for _, f := range some {
				if err := f.fly(tx, day); err != nil {
					return err
				}
				if err := f.keep(tx); err != nil {
					return fmt.Errorf("lesson of %s on %s: %w", f.student.Name, f.at.Format(time.DateOnly), err)
				}
			}
			return nil
		}); err != nil {
			return err
		}
		n += len(some)
		done(n)
	}
	return nil
}

func midnight(day time.Time) time.Time {
	return time.Date(day.Year(), day.Month(), day.Day(), 0, 0, 0, 0, day.Location())
}

// Begin is Load without the past: people, aircraft, lists and plans.
func Begin(ctx context.Context, s *store.Store, c *catalog.Catalog, day time.Time, hash string) error {
	day = midnight(day)
	made := store.School{
		ID: SchoolID, Name: SchoolName, TimeZone: day.Location().String(), CreatedAt: day.AddDate(0, 0, -createdBefore),
	}
	if err := s.AddSchool(ctx, made, func(tx *store.Tx) error {
		for _, base := range c.Aerodromes {
			if err := tx.AddBase(base); err != nil {
				return err
			}
		}
		return nil
	}); err != nil {
		return err
	}
	for _, p := range People() {
		if err := s.AddAccount(ctx, store.Account{ID: p.ID, Email: p.Email, Name: p.Name, Password: hash}); err != nil {
			return fmt.Errorf("adding %s: %w", p.Name, err)
		}
	}
	if err := s.In(ctx, SchoolID, func(_ context.Context, tx *store.Tx) error {
		if err := enrol(tx, c, day); err != nil {
			return err
		}
		return stock(tx, day)
	}); err != nil {
		return err
	}
	if err := s.In(ctx, SchoolID, func(_ context.Context, tx *store.Tx) error { return plan(tx, day) }); err != nil {
		return fmt.Errorf("planning the day: %w", err)
	}
	return nil
}

func enrol(tx *store.Tx, c *catalog.Catalog, day time.Time) error {
	for _, p := range People() {
		if err := tx.Join(p.ID, p.Role); err != nil {
			return err
		}
	}
	for _, a := range Fleet {
		if err := tx.AddAircraft(a); err != nil {
			return err
		}
	}
	for _, l := range learners() {
		t, _ := c.Type(l.typ)
		err := tx.AddStudent(store.Student{ID: l.ID, InstructorID: l.instructor.ID, Class: t.Class,
			EngineKind: t.EngineKind,
			StartType:  t.StartType, StartedOn: store.Date(day.AddDate(0, 0, -l.days[0]-6).Format(time.DateOnly))})
		if err != nil {
			return err
		}
	}
	return tx.Share(Brandt.ID, Petrescu.ID, day.AddDate(0, 3, 0).Format(time.DateOnly))
}

// maker makes lessons.
type maker struct {
	catalog *catalog.Catalog
	// tenths are what each aircraft's hour meter shows, in tenths of an hour.
	tenths map[string]int
}

// flight is one lesson with its events.
type flight struct {
	*maker
	random     *rand.Rand
	id         string
	student    Person
	instructor Person
	aircraft   store.Aircraft
	typ        aircraft.Type
	conditions fields
	questions  []catalog.Question
	first      map[string]bool // the items that others must wait for
	asked      map[string]bool // the questions
	at         time.Time
	skill      float64
	nth        int
	purpose    string
	// leaves reports which phases, of so many, are not worked.
	leaves func(phase string, i, of int) bool
	// stuck is the item that the student never does alone.
	stuck   string
	running bool // in progress: neither ended nor signed
	events  []lesson.Event
	n       uint64 // of the ids made so far
	ms      int64
	qnh     int // hPa
}

// toRunUp leaves out what comes after the run-up, as the first lessons do.
func toRunUp(phase string, _, _ int) bool {
	return phase == "before-take-off" || phase == "line-up" || phase == "hover"
}

func wholeList(string, int, int) bool { return false }

// flights lists every lesson, oldest first.
func (m *maker) flights(day time.Time) []*flight {
	var all []*flight
	for _, l := range learners() {
		own := slices.DeleteFunc(slices.Clone(Fleet), func(a store.Aircraft) bool { return a.Type != l.typ })
		last := int(l.ID[len(l.ID)-1])
		for n, before := range l.days {
			f := &flight{maker: m, student: l.Person, instructor: l.instructor, nth: n,
				skill: l.start + l.gain*float64(n), purpose: "training",
				aircraft: own[(n+last)%len(own)], leaves: wholeList,
				at:     day.AddDate(0, 0, -before).Add(time.Duration(8+(n*3+last)%8) * time.Hour),
				random: rand.New(rand.NewPCG(uint64(last), uint64(n)))}
			if n < 2 {
				f.leaves = toRunUp
			}
			if n%3 == 2 {
				f.instructor = []Person{Okonjo, Solheim, Quist}[(n+before)%3]
			}
			if l.stageCheck && n >= len(l.days)-2 {
				f.skill = 9
				if n == len(l.days)-1 {
					f.purpose, f.instructor = "stage-check", Solheim
				}
			}
			all = append(all, f)
		}
	}
	all = append(all,
		&flight{maker: m, student: Lindqvist, instructor: Okonjo, aircraft: Fleet[2], at: day.Add(9 * time.Hour),
			nth: 8, skill: 0.6,
			purpose: "training", leaves: wholeList, running: true, random: rand.New(rand.NewPCG(20, 2))})
	return numbered(all, 0)
}

// numbered puts flights in the order of their time, and numbers their ids from a
// flight on.
func numbered(all []*flight, from int) []*flight {
	slices.SortStableFunc(all, func(a, b *flight) int { return a.at.Compare(b.at) })
	for i, f := range all {
		f.n = uint64(from+i) << 12
	}
	return all
}

// uuid is a UUIDv7 of the flight's time, the same each run.
func (f *flight) uuid(at time.Time) string {
	f.n++
	ms := uint64(at.UnixMilli())
	return fmt.Sprintf("%08x-%04x-7%03x-8%03x-%012x", ms>>16, ms&0xffff, f.n>>12&0xfff, f.n&0xfff,
		f.n*0x9e3779b97f4a7c15&0xffffffffffff)
}

func (f *flight) add(kind string, payload any) string {
	data, err := json.Marshal(payload)
	if err != nil {
		panic(err) // a map of plain values
	}
	e := lesson.Event{ID: f.uuid(f.at.Add(time.Duration(f.ms) * time.Millisecond)),
		Device: "tablet-" + f.instructor.Email[:3], Seq: int64(len(f.events) + 1),
		Counter: int64(len(f.events) + 1), AtMs: f.ms,
		Wall: f.at.Add(time.Duration(f.ms) * time.Millisecond).UTC().Format(time.RFC3339), Kind: kind, V: 1,
		Payload: data}
	f.events = append(f.events, e)
	return e.ID
}

type fields = map[string]any

// fly makes the lesson's events: the list as flown on its day, item by item.
func (f *flight) fly(tx *store.Tx, day time.Time) error {
	f.id = f.uuid(f.at)
	conditions, weather := f.day()
	of := checklist.Aircraft{Equipment: f.aircraft.Equipment}
	if f.aircraft.Type == "hornbeam-twin" && f.nth%2 == 1 {
		of.StartOrder = []int{2, 1}
	}
	typ, list, flown, err := flown(tx, f.aircraft.Type, f.at.Format(time.DateOnly), f.instructor.ID, of, weather)
	if err != nil {
		return err
	}
	f.typ, f.conditions, f.questions = typ, conditions, f.catalog.QuestionsFor(typ.ID)
	f.first, f.asked = map[string]bool{}, map[string]bool{}
	for _, p := range flown.List.Places() {
		for _, before := range p.Item.After {
			f.first[before] = true
		}
	}
	f.add(lesson.KindOpened,
		fields{"student": f.student.ID, "instructor": f.instructor.ID, "aircraft": f.aircraft.Registration,
			"aircraftType": typ.ID,
			"typeVersion":  typ.Version, "list": list.ID, "listVersion": list.Version,
			"method": lesson.Methods[f.nth/4%2],
			"scale":  []string{"independence", "five", "independence"}[f.nth%3], "purpose": f.purpose,
			"runway": f.runway(),
			"wind":   fmt.Sprintf("%d/%d", 170+f.random.IntN(6)*10, int(*weather.WindKt)), "conditions": conditions,
			"equipment": f.aircraft.Equipment, "day": weather, "flown": flown})
	f.hours("start")
	for i, phase := range flown.List.Phases {
		if phase.ID == "shutdown" && !f.leaves("before-take-off", 0, 0) {
			f.ms += 12 * 60_000 // a circuit
		}
		if f.leaves(phase.ID, i, len(flown.List.Phases)) {
			continue
		}
		for _, item := range phase.Items {
			f.item(item, day)
			if f.running && item.Check == "magneto" {
				return nil // over its limit, and not yet decided
			}
		}
		f.ms += 1000
		f.add(lesson.KindPhaseClosed, fields{"phase": phase.ID})
	}
	f.ms += 60_000
	f.hours("end")
	f.add(lesson.KindEnded, fields{})
	f.ms += 240_000
	f.add(lesson.KindDebriefNote, fields{"words": debriefs[(f.nth+len(f.student.Name))%len(debriefs)]})
	return nil
}

// hours reads the hour meter: it counts while the engine runs, from the third
// phase on.
func (f *flight) hours(when string) {
	at := f.tenths[f.aircraft.Registration]
	if at == 0 {
		at = firstTenths(f.aircraft.Registration)
	}
	if when == "end" {
		at += max(1, int(f.ms/360_000)*2/3)
	}
	f.tenths[f.aircraft.Registration] = at
	f.add(lesson.KindHourMeter, fields{"meter": "hour", "when": when, "value": float64(at) / 10})
}

// firstTenths is what the hour meter of an aircraft of the small school shows before
// its first lesson.
func firstTenths(registration string) int { return 12_043 + 811*int(registration[5]-'A') }

// lessonID is the lesson's id, which is made before all others of it.
func (f *flight) lessonID() string {
	first := *f
	return first.uuid(f.at)
}

func (f *flight) runway() string {
	if f.aircraft.Base == "XSTB" {
		return "14"
	}
	return "20"
}

var debriefs = []string{
	"Good pace. Next time the limit aloud with every reading.",
	"Flow is settling; the brief still needs its numbers.",
	"Looked outside in time at the run-up. Keep that.",
	"Waits for the drop to settle now. Brakes watched throughout.",
	"Started well prepared; rushed after the taxi call.",
}

// day is the day of the lesson: as conditions that checks are judged under, and
// as what the list is tailored to.
func (f *flight) day() (fields, checklist.Day) {
	f.qnh = 1006 + f.random.IntN(18)
	oat, elevation, qnh := math.Round(60+50*f.random.Float64())/10, float64(f.aircraft.ElevationFt), float64(f.qnh)
	engine := []string{"cold", "warm"}[f.random.IntN(2)]
	dew, wind, night, first := oat-2-float64(f.random.IntN(5)), float64(4+f.random.IntN(11)), false, engine == "cold"
	return fields{"oatC": oat, "elevationFt": f.aircraft.ElevationFt, "qnhHPa": f.qnh, "rules": "VFR", "night": false,
			"engineState": engine,
			"date":        f.at.Format(time.DateOnly)},
		checklist.Day{OATC: &oat, DewPointC: &dew, WindKt: &wind, ElevationFt: &elevation, QNHHPa: &qnh, Night: &night,
			FirstFlight: &first,
			Rules:       "VFR", EngineState: engine, Exercises: []string{
				[]string{"circuits", "steep-turns", "navigation"}[f.nth%3],
			}}
}

// hard says how hard an item is: what needs numbers or judgement is harder.
func hard(item checklist.Item) float64 {
	d := 0.0
	if item.Check != "" {
		d += 0.5
	}
	if item.Critical {
		d -= 0.4
	}
	return d + float64(len(item.Challenge)%5)/10
}

func (f *flight) item(item checklist.Item, day time.Time) {
	f.ms += 6000 + f.random.Int64N(14_000)
	f.add(lesson.KindItemOpened, fields{"item": item.ID})
	f.read(item, day)
	if f.running && item.Check == "magneto" {
		return
	}
	f.ms += 2000 + f.random.Int64N(4000)
	sound := 1 / (1 + math.Exp(-(f.skill + 1.4 - hard(item))))
	done := func(implied bool) {
		f.add(lesson.KindItemResult, fields{"item": item.ID, "result": "done", "implied": implied})
	}
	x := f.random.Float64()
	if item.ID == f.stuck {
		x = 0.35 + 0.65*x // never alone
		sound = 0
	}
	switch {
	case x < sound:
		done(f.random.Float64() < 0.25 && item.Check == "")
	case x < sound+(1-sound)*0.35:
		f.add(lesson.KindSelfCorrection, fields{"item": item.ID})
		done(false)
	case x < sound+(1-sound)*0.75:
		f.add(lesson.KindPrompt, fields{"item": item.ID})
		done(false)
	case x < sound+(1-sound)*0.87 || (item.Critical || f.first[item.ID]) && f.nth > 1:
		f.add(lesson.KindAssist, fields{"item": item.ID})
		done(false)
	case x < sound+(1-sound)*0.94:
		f.add(lesson.KindItemResult, fields{"item": item.ID, "result": "wrong"})
		f.add(lesson.KindError, fields{
			"item":     item.ID,
			"code":     []string{"answered-without-looking", "wrong-limit", "wrong-switch"}[f.random.IntN(3)],
			"severity": "wrong",
		})
	default:
		f.add(lesson.KindOmitted, fields{"item": item.ID})
	}
	for _, q := range f.questions {
		if slices.Contains(q.Items, item.ID) || slices.Contains(q.Items, item.Of) {
			f.ask(item.ID, q, sound)
		}
	}
}

// ask asks a question of the bank: at the first lesson every other one.
func (f *flight) ask(item string, q catalog.Question, sound float64) {
	if f.asked[q.ID] || f.nth == 0 && f.random.Float64() < 0.5 {
		return
	}
	f.asked[q.ID] = true
	level := 4
	if x := f.random.Float64(); x > sound+0.05 {
		level = 3
		if f.random.Float64() < 0.3 {
			level = 2
		}
	}
	f.ms += 5000
	f.add(lesson.KindOral,
		fields{"item": item, "question": q.Ask, "bank": q.ID, "elements": q.Elements, "level": level})
}

// keep brings the lesson into the store, and signs it unless it still runs.
func (f *flight) keep(tx *store.Tx) error {
	by := store.Sender{ID: f.instructor.ID, Roles: access.Roles{f.instructor.Role}}
	now := f.at.Add(time.Duration(f.ms)*time.Millisecond + time.Minute)
	answers, err := tx.Accept(f.id, f.events, by, now)
	if err != nil {
		return err
	}
	for i, a := range answers {
		if a.Status != "held" {
			return fmt.Errorf("event %d (%s): %s %s", i, f.events[i].Kind, a.Status, a.Reason)
		}
	}
	if f.running {
		return nil
	}
	ids := make([]string, len(f.events))
	for i, e := range f.events {
		ids[i] = e.ID
	}
	slices.Sort(ids)
	return tx.Sign(f.id, lesson.SetHash(ids),
		store.Signer{ID: f.instructor.ID, Name: f.instructor.Name, How: "password"}, f.uuid(now), now)
}
