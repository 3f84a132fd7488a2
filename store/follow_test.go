package store_test

import (
	"context"
	"encoding/json"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/access"
	"jetprimer/core/aircraft"
	"jetprimer/core/handbook"
	"jetprimer/core/library"
	"jetprimer/core/policy"
	"jetprimer/demo"
	"jetprimer/demo/schooltest"
	"jetprimer/store"
)

// enacted writes a policy down, and brings it into force from a day.
func enacted(t *testing.T, d *schooltest.Database, from time.Time, change func(p *policy.Policy)) int {
	version := 0
	require.NoError(t, in(t, d, func(tx *store.Tx) error {
		p, err := tx.Policy(from.Format(time.DateOnly))
		if err != nil {
			return err
		}
		change(&p)
		if version, err = tx.AddDraft(library.KindPolicy, policy.ID, "", p.Title,
			func(n int) ([]byte, error) { p.Version = n; return json.Marshal(p) }, demo.Okonjo.ID,
			schooltest.Day); err != nil {
			return err
		}
		v, err := tx.VersionOf(library.KindPolicy, policy.ID, version)
		if err == nil {
			err = tx.Review(v, demo.Solheim.ID, schooltest.Day)
		}
		if err == nil {
			v, err = tx.VersionOf(library.KindPolicy, policy.ID, version)
		}
		if err == nil {
			err = tx.Approve(v, from.Format(time.DateOnly), demo.Ferreira.ID, schooltest.Day)
		}
		return err
	}))
	return version
}

// TestAPolicyServesFromItsDay: not before, until the next one; standings follow at
// the first beat of that day and are verified by it; a moved school brings along
// by what its standings were kept.
func TestAPolicyServesFromItsDay(t *testing.T) {
	d, ctx := schooltest.Demo(t, "x"), context.Background()
	tomorrow, week := schooltest.Day.AddDate(0, 0, 1), schooltest.Day.AddDate(0, 0, 7)
	first := enacted(t, d, tomorrow, func(p *policy.Policy) { p.Standing.Enter.Lessons = 1 })
	second := enacted(t, d, week, func(p *policy.Policy) { p.Standing.Enter.Lessons = 9 })
	serving := func(day time.Time) int {
		return get(t, d,
			func(tx *store.Tx) (int, error) { p, err := tx.Policy(day.Format(time.DateOnly)); return p.Version, err })
	}
	assert.Equal(t, []int{2, first, first, second},
		[]int{serving(schooltest.Day), serving(tomorrow), serving(week.AddDate(0, 0, -1)), serving(week)})
	held := func() (n int) {
		for _, s := range get(t, d, func(tx *store.Tx) ([]store.Standing, error) { return tx.Standings("") }) {
			if s.Held == "to standard" || s.Held == "consolidated" {
				n++
			}
		}
		return n
	}
	follow := func(now time.Time) bool {
		done, err := d.Store.FollowPolicy(ctx, demo.SchoolID, now)
		require.NoError(t, err)
		if done {
			require.NoError(t, in(t, d, func(tx *store.Tx) error { _, err := tx.VerifyChain(); return err }))
		}
		return done
	}
	before := held()
	assert.False(t, follow(schooltest.Day.Add(23*time.Hour)))
	assert.True(t, follow(tomorrow.Add(time.Minute)))
	milder := held()
	assert.Greater(t, milder, before)
	assert.True(t, follow(week.Add(time.Minute)))
	assert.Less(t, held(), milder)
	assert.False(t, follow(week.Add(time.Hour)))
}

// TestWhoWroteDoesNotConfirm: every account that saved a type is kept with it, once
// each; the type is confirmed as it was settled, and stays so.
func TestWhoWroteDoesNotConfirm(t *testing.T) {
	d := schooltest.Demo(t, "x")
	typ, known := d.Catalog.Type("sorrel-100")
	require.True(t, known)
	own, err := handbook.Copy(typ)
	require.NoError(t, err)
	own.ID, own.Name, own.Source = "sorrel-102", "Sorrel 102", "fictional type"
	body := must(json.Marshal(own))
	require.NoError(t, in(t, d, func(tx *store.Tx) error {
		_, err := tx.AddDraft(library.KindType, own.ID, own.ID, own.Name,
			func(int) ([]byte, error) { return body, nil }, demo.Okonjo.ID, schooltest.Day)
		return err
	}))
	at := func() library.Version {
		return get(t, d,
			func(tx *store.Tx) (library.Version, error) { return tx.VersionOf(library.KindType, own.ID, 1) })
	}
	for range 2 {
		require.NoError(t,
			in(t, d,
				func(tx *store.Tx) error {
					return tx.SaveDraft(at(), own.Name, body, demo.Solheim.ID,
						schooltest.Day)
				}))
	}
	v := at()
	assert.Equal(t, []string{demo.Okonjo.ID, demo.Solheim.ID}, v.Writers)
	assert.Error(t, v.MayConfirm(demo.Okonjo.ID))
	assert.Error(t, v.MayConfirm(demo.Solheim.ID))
	assert.NoError(t, v.MayConfirm(demo.Ferreira.ID))
	own.Name = "Sorrel 102, settled"
	require.NoError(t, in(t, d, func(tx *store.Tx) error {
		return tx.Confirm(v, must(json.Marshal(own)), demo.Ferreira.ID, schooltest.Day)
	}))
	kept := get(t, d, func(tx *store.Tx) (aircraft.Type, error) {
		return store.Document[aircraft.Type](tx, library.KindType, own.ID, 1)
	})
	assert.Equal(t, "Sorrel 102, settled", kept.Name)
	assert.Error(t,
		in(t, d, func(tx *store.Tx) error {
			return tx.SaveDraft(at(), own.Name, body, demo.Solheim.ID,
				schooltest.Day)
		}))
	none := get(t, d,
		func(tx *store.Tx) ([]aircraft.Type, error) { return tx.Types(schooltest.Day.Format(time.DateOnly)) })
	for _, one := range none {
		assert.NotEqual(t, own.ID, one.ID, "it serves no lesson yet")
	}
	desk := get(t, d, func(tx *store.Tx) (store.Desk, error) { return tx.WritingDesk(own.ID, "") })
	assert.Equal(t, own.ID, desk.Type.ID)
	_, err = firstDesk(d, own.ID)
	assert.ErrorIs(t, err, store.ErrNotFound)
}

func firstDesk(d *schooltest.Database, typ string) (desk store.Desk, err error) {
	err = d.Store.In(context.Background(), demo.SchoolID, func(_ context.Context, tx *store.Tx) (err error) {
		desk, err = tx.Desk(typ, schooltest.Day.Format(time.DateOnly), "")
		return err
	})
	return desk, err
}

// TestANameThatIsNeededElsewhereStays: of two schools in one database neither
// erases the name of somebody whom the other still has.
func TestANameThatIsNeededElsewhereStays(t *testing.T) {
	d, ctx, other := schooltest.Demo(t, "x"), context.Background(), uuid.NewString()
	require.NoError(t,
		d.Store.AddSchool(ctx, store.School{
			ID: other, Name: "Another school", TimeZone: "UTC", CreatedAt: schooltest.Day,
		}, nil))
	who := demo.Petrescu // an examiner, of no lesson
	require.NoError(t,
		d.Store.In(ctx, other, func(_ context.Context, tx *store.Tx) error { return tx.Join(who.ID, access.Examiner) }))
	day := schooltest.Day.Format(time.DateOnly)
	require.NoError(t, in(t, d, func(tx *store.Tx) error {
		return tx.SetMember(who.ID,
			access.Member{Name: who.Name, Email: who.Email, Roles: access.Roles{access.Examiner}}, false, day)
	}))
	member := get(t, d, func(tx *store.Tx) (store.Member, error) { return tx.Member(who.ID) })
	assert.Equal(t, day, member.LeftOn)
	assert.ErrorContains(t, in(t, d, func(tx *store.Tx) error { return tx.Erase(who.ID, who.Name, schooltest.Day) }),
		"another school of this installation")
	assert.Equal(t, who.Name, must(d.Store.AccountByID(ctx, who.ID)).Name)
}
