package store_test

import (
	"context"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/school"
	"jetprimer/core/weather"
	"jetprimer/demo"
	"jetprimer/demo/schooltest"
	"jetprimer/store"
)

// TestASecretIsKeptForItsAccountAlone: encrypted, opened by the account that it
// was kept for, and a step of it is used once, whoever comes at the same time.
func TestASecretIsKeptForItsAccountAlone(t *testing.T) {
	ctx, d := context.Background(), schooltest.Demo(t, "x")
	account := func(who demo.Person) store.Account {
		a, err := d.Store.AccountByID(ctx, who.ID)
		require.NoError(t, err)
		return a
	}
	none, err := d.Store.Second(account(demo.Okonjo))
	require.NoError(t, err)
	assert.Nil(t, none)
	secret := []byte("12345678901234567890")
	require.NoError(t, d.Store.SetSecond(ctx, demo.Okonjo.ID, secret, 100))
	kept := account(demo.Okonjo)
	assert.NotContains(t, string(kept.Second), string(secret))
	opened, err := d.Store.Second(kept)
	require.NoError(t, err)
	assert.Equal(t, secret, opened)

	moved := kept
	moved.ID = demo.Quist.ID
	_, err = d.Store.Second(moved)
	assert.Error(t, err, "put under another account it opens nothing")
	flipped := kept
	flipped.Second = append([]byte{}, kept.Second...)
	flipped.Second[len(flipped.Second)-1] ^= 1
	_, err = d.Store.Second(flipped)
	assert.Error(t, err)
	short := kept
	short.Second = kept.Second[:4]
	_, err = d.Store.Second(short)
	assert.ErrorContains(t, err, "damaged")

	for step, used := range map[int64]bool{99: false, 100: false} {
		ok, err := d.Store.UseSecond(ctx, demo.Okonjo.ID, step)
		require.NoError(t, err)
		assert.Equal(t, used, ok, step)
	}
	results := make(chan bool, 8)
	for range cap(results) {
		go func() {
			ok, err := d.Store.UseSecond(ctx, demo.Okonjo.ID, 101)
			results <- ok && err == nil
		}()
	}
	used := 0
	for range cap(results) {
		if <-results {
			used++
		}
	}
	assert.Equal(t, 1, used, "of many at once one")
	require.NoError(t, d.Store.SetSecond(ctx, demo.Okonjo.ID, nil, 0))
	none, err = d.Store.Second(account(demo.Okonjo))
	require.NoError(t, err)
	assert.Nil(t, none)
}

// TestSessionsOfAPerson: each ends what is its own, one or all others.
func TestSessionsOfAPerson(t *testing.T) {
	ctx, d := context.Background(), schooltest.Demo(t, "x")
	now := time.Now()
	begin := func(token string, who demo.Person, ago time.Duration) {
		require.NoError(t, d.Store.Sessions().Commit(token, []byte("data"), now.Add(time.Hour)))
		require.NoError(t,
			d.Store.Begun(ctx, token, who.ID, demo.SchoolID, 12, "203.0.113.9", "Firefox on Linux", now.Add(-ago)))
	}
	tokens := func(who demo.Person) (out []string) {
		sessions, err := d.Store.SessionsOf(ctx, who.ID, "")
		require.NoError(t, err)
		for _, s := range sessions {
			out = append(out, s.Token)
			assert.Equal(t, "Firefox on Linux", s.Device)
		}
		return out
	}
	begin("a", demo.Okonjo, time.Hour)
	begin("b", demo.Okonjo, time.Minute)
	begin("c", demo.Okonjo, 2*time.Hour)
	begin("q", demo.Quist, time.Minute)
	assert.Equal(t, []string{"b", "a", "c"}, tokens(demo.Okonjo), "the latest first")
	require.NoError(t, d.Store.EndSession(ctx, demo.Quist.ID, "a"))
	assert.Len(t, tokens(demo.Okonjo), 3, "another's is not one's to end")
	require.NoError(t, d.Store.EndSession(ctx, demo.Okonjo.ID, "c"))
	assert.Equal(t, []string{"b", "a"}, tokens(demo.Okonjo))
	require.NoError(t, d.Store.EndSessions(ctx, demo.Okonjo.ID, "a"))
	assert.Equal(t, []string{"a"}, tokens(demo.Okonjo))
	assert.Equal(t, []string{"q"}, tokens(demo.Quist))
	_, there, err := d.Store.Sessions().Find("b")
	require.NoError(t, err)
	assert.False(t, there)
}

// TestRecoveryTakesEverythingElseAway: once, by its own code, with whatever signed
// in or signed beside the password.
func TestRecoveryTakesEverythingElseAway(t *testing.T) {
	ctx, d := context.Background(), schooltest.Demo(t, "x")
	id := demo.Okonjo.ID
	require.NoError(t, d.Store.SetPin(ctx, id, "pin", []store.DeviceKey{{ID: "d"}}))
	require.NoError(t, d.Store.SetSecond(ctx, id, []byte("12345678901234567890"), 7))
	require.NoError(t, d.Store.Sessions().Commit("token", []byte("data"), time.Now().Add(time.Hour)))
	require.NoError(t, d.Store.Begun(ctx, "token", id, demo.SchoolID, 12, "", "", time.Now()))
	before, err := d.Store.AccountByID(ctx, id)
	require.NoError(t, err)
	assert.ErrorIs(t, d.Store.Recover(ctx, before, "new"), store.ErrNotFound, "nobody asked for it")
	ask := func() {
		require.NoError(t, d.Store.In(ctx, demo.SchoolID, func(_ context.Context, tx *store.Tx) error {
			return tx.AskRecovery(id, "hash", "A code was given out.", time.Now().Add(time.Hour), time.Now())
		}))
	}
	ask()
	require.NoError(t, d.Store.SetPassword(ctx, id, "another"))
	ended, err := d.Store.AccountByID(ctx, id)
	require.NoError(t, err)
	assert.Empty(t, ended.Recovery, "another password ends the code")
	assert.Nil(t, ended.RecoverySchool)
	ask()
	require.NoError(t, d.Store.In(ctx, demo.SchoolID, func(_ context.Context, tx *store.Tx) error {
		told, err := tx.Notices(id)
		require.Len(t, told, 2)
		assert.Equal(t, "A code was given out.", told[0].Words)
		require.NoError(t, tx.ReadNotice(id, told[0].ID, time.Now()))
		assert.ErrorIs(t, tx.ReadNotice(id, told[0].ID, time.Now()), store.ErrNotFound)
		assert.ErrorIs(t, tx.ReadNotice(demo.Quist.ID, told[1].ID, time.Now()), store.ErrNotFound,
			"nobody reads another's")
		return err
	}))
	asked, err := d.Store.AccountByID(ctx, id)
	require.NoError(t, err)
	other := asked
	other.Recovery = "another"
	assert.ErrorIs(t, d.Store.Recover(ctx, other, "new"), store.ErrNotFound)
	require.NoError(t, d.Store.Recover(ctx, asked, "new"))
	after, err := d.Store.AccountByID(ctx, id)
	require.NoError(t, err)
	assert.Equal(t, "new", after.Password)
	assert.Empty(t, after.Pin+after.Recovery+string(after.Second))
	assert.Empty(t, after.DeviceKeys)
	assert.Nil(t, after.RecoveryUntil)
	_, there, err := d.Store.Sessions().Find("token")
	require.NoError(t, err)
	assert.False(t, there)
	assert.ErrorIs(t, d.Store.Recover(ctx, asked, "again"), store.ErrNotFound, "once")
}

// TestASchoolsAircraftAreItsOwn: the same registration in two schools is two
// aircraft, and what one school changes the other does not see.
func TestASchoolsAircraftAreItsOwn(t *testing.T) {
	ctx, d := context.Background(), schooltest.Demo(t, "x")
	other := uuid.NewString()
	home := weather.Aerodrome{
		ID: "XTHW", Name: "Elsewhere", ElevationFt: 900,
		Runways: []weather.Runway{{Name: "09", HeadingDegMagnetic: 90, LengthM: 500, Surface: "grass"}},
	}
	require.NoError(t,
		d.Store.AddSchool(ctx, store.School{ID: other, Name: "Elsewhere", TimeZone: "UTC", CreatedAt: schooltest.Day},
			func(tx *store.Tx) error {
				return tx.SetBase(home, school.BasesMost)
			}))
	in := func(id string, run func(tx *store.Tx) error) error {
		return d.Store.In(ctx, id, func(_ context.Context, tx *store.Tx) error { return run(tx) })
	}
	frame := school.Airframe{
		Registration: "QZ-AAA", Type: "alder-110", Base: "XTHW", Equipment: []string{"second-altimeter"},
	}
	require.NoError(t, in(other, func(tx *store.Tx) error { return tx.AddAirframe(frame, on(0)) }))
	assert.ErrorContains(t, in(other, func(tx *store.Tx) error { return tx.AddAirframe(frame, on(0)) }),
		"that the school has or had")
	frame.Equipment = nil
	require.NoError(t, in(other, func(tx *store.Tx) error {
		return tx.SetAirframe(frame, on(3), on(9), demo.Ferreira.ID, on(0), at(0))
	}))
	one := func(id, day string) (a store.Aircraft) {
		require.NoError(t, in(id,
			func(tx *store.Tx) (err error) { a, err = tx.OneAircraft("QZ-AAA", day); return err }))
		return a
	}
	for day, has := range map[int]int{0: 1, 2: 1, 3: 0, 30: 0} {
		assert.Len(t, one(other, on(day)).Equipment, has, day)
		assert.Len(t, one(demo.SchoolID, on(day)).Equipment, 1, day)
	}
	assert.False(t, one(other, on(8)).Retired(on(8)))
	assert.True(t, one(other, on(9)).Retired(on(9)))
	assert.False(t, one(demo.SchoolID, on(9)).Retired(on(9)))
	assert.Equal(t, []int{900, 412}, []int{one(other, on(0)).ElevationFt, one(demo.SchoolID, on(0)).ElevationFt})
	home.ElevationFt = 950
	require.NoError(t, in(other, func(tx *store.Tx) error { return tx.SetBase(home, school.BasesMost) }))
	assert.Equal(t, []int{950, 412}, []int{one(other, on(0)).ElevationFt, one(demo.SchoolID, on(0)).ElevationFt})
	frame.Type = "larch-d2"
	assert.ErrorContains(t,
		in(other, func(tx *store.Tx) error { return tx.SetAirframe(frame, on(0), "", demo.Ferreira.ID, on(0), at(0)) }),
		"type cannot change")
	home.ID = "XNEW"
	assert.ErrorContains(t, in(other, func(tx *store.Tx) error { return tx.SetBase(home, 1) }),
		"bases must be at most 1")
	require.NoError(t, in(other, func(tx *store.Tx) error { return tx.SetPlace("Elsewhere Flying", "Europe/Dublin") }))
	var names []string
	for _, id := range []string{other, demo.SchoolID} {
		require.NoError(t,
			in(id, func(tx *store.Tx) error { name, err := tx.SchoolName(); names = append(names, name); return err }))
	}
	assert.Equal(t, []string{"Elsewhere Flying", demo.SchoolName}, names)
}

// TestAChallengeIsAnsweredOnce: whoever answers it at the same moment.
func TestAChallengeIsAnsweredOnce(t *testing.T) {
	d := schooltest.New(t)
	fresh, all := atomic.Int64{}, sync.WaitGroup{}
	for range 8 {
		all.Go(func() {
			first, err := d.Store.SpendChallenge(context.Background(), "challenge", at(0))
			assert.NoError(t, err)
			if first {
				fresh.Add(1)
			}
		})
	}
	all.Wait()
	assert.Equal(t, int64(1), fresh.Load())
}
