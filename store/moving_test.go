package store_test

import (
	"archive/zip"
	"bytes"
	"context"
	"crypto/hmac"
	"crypto/sha256"
	"encoding/hex"
	"io"
	"strings"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/demo"
	"jetprimer/demo/demotest"
	"jetprimer/post"
	"jetprimer/store"
)

const moveKey = "herons over the fen"

func quiet(string, int64) {}

// codes makes a code that needs no hashing.
func codes() (code, hash string, err error) { return "CODE", "hash", nil }

// out is a school's file.
func out(t testing.TB, s *store.Store, school, key string) []byte {
	var file bytes.Buffer
	_, err := s.ExportSchool(context.Background(), school, key, &file, quiet)
	require.NoError(t, err)
	return file.Bytes()
}

func into(s *store.Store, file []byte, key string) error {
	_, _, err := s.ImportSchool(context.Background(), bytes.NewReader(file), int64(len(file)), key, false, demotest.Day, codes, quiet)
	return err
}

// keptUnder opens a database under a secret of its own.
func keptUnder(t *testing.T, d *demotest.Database, secret string) *store.Store {
	s, err := store.Open(context.Background(), d.AppURL, secret, demotest.Catalog(t))
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	return s
}

// TestASchoolMovesAndComesBack: to a second installation with a secret of its
// own, and from there to a third: every row is as it was, the chain holds, the
// files are the same bytes, and the school goes on signing.
func TestASchoolMovesAndComesBack(t *testing.T) {
	ctx := context.Background()
	a := demotest.Demo(t, "x")
	b, c := demotest.New(t), demotest.New(t)
	moved, back := keptUnder(t, b, "another secret altogether"), keptUnder(t, c, demotest.Secret)
	require.NoError(t, a.Store.SetSecond(ctx, demo.Whitlock.ID, []byte("a shared secret here"), 7))
	letters := post.Server{Host: "smtp.school.example", Port: 465, Secured: true, User: "office", Password: "another shared secret", From: "office@school.example"}
	require.NoError(t, a.Store.In(ctx, demo.SchoolID, func(_ context.Context, tx *store.Tx) error { return tx.SetLetterServer(&letters) }))

	first := out(t, a.Store, demo.SchoolID, moveKey)
	require.NoError(t, into(moved, first, moveKey))
	second := out(t, moved, demo.SchoolID, moveKey)
	assert.True(t, bytes.Equal(first, second), "the file of the moved school is the same")
	require.NoError(t, into(back, second, moveKey))
	assert.True(t, bytes.Equal(first, out(t, back, demo.SchoolID, moveKey)))

	done, err := moved.FollowPolicy(ctx, demo.SchoolID, demotest.Day.Add(23*time.Hour))
	require.NoError(t, err)
	assert.False(t, done, "the standings came along as they were kept")

	rows := func(d *demotest.Database) map[string]string {
		conn, err := pgx.Connect(ctx, d.OwnerURL)
		require.NoError(t, err)
		defer conn.Close(ctx)
		_, err = conn.Exec(ctx, "select set_config('app.school', $1, false)", demo.SchoolID)
		require.NoError(t, err)
		all := tables(t, conn)
		for i, columns := range all { // what an installation gives and encrypts by itself
			for _, own := range []string{"private", "second", "letters", "recovery", "recovery_until"} {
				columns.list = strings.ReplaceAll(", "+columns.list+",", ", "+own+",", ",")
				columns.list = strings.Trim(columns.list, ", ")
			}
			if columns.table == "audit" {
				columns.list = strings.TrimPrefix(columns.list, "id, ")
			}
			all[i] = columns
		}
		held := contents(t, conn, all)
		delete(held, "sessions")
		delete(held, "login_attempts")
		return held
	}
	was, is := rows(a), rows(c)
	require.Contains(t, was["lesson_events"], "lesson-opened")
	for table, held := range was {
		assert.Equal(t, held, is[table], table)
	}
	require.NoError(t, moved.In(ctx, demo.SchoolID, func(_ context.Context, tx *store.Tx) error {
		_, err := tx.RotateKey(demotest.Day)
		return err
	}), "the moved school signs")
	require.NoError(t, moved.In(ctx, demo.SchoolID, func(_ context.Context, tx *store.Tx) error {
		kept, err := tx.LetterServer()
		assert.Equal(t, &letters, kept)
		return err
	}))
	who := must(moved.AccountByEmail(ctx, demo.Whitlock.Email))
	assert.Equal(t, "a shared secret here", string(must(moved.Second(who))))
}

// provedBy puts a proof by a key to the end of a file, as somebody who had the key
// could.
func provedBy(key string, file []byte) []byte {
	derived := hmac.New(sha256.New, []byte(key))
	derived.Write([]byte("prove " + demo.SchoolID))
	mac := hmac.New(sha256.New, derived.Sum(nil))
	mac.Write(file[:len(file)-64])
	return append(bytes.Clone(file[:len(file)-64]), hex.EncodeToString(mac.Sum(nil))...)
}

// TestWhatIsNoSchoolsFileIsRefusedWhole: a key of another file, a byte flipped
// anywhere, a file cut short, entries that are missing, doubled or foreign: each
// is refused in words, and nothing of it was taken.
func TestWhatIsNoSchoolsFileIsRefusedWhole(t *testing.T) {
	ctx := context.Background()
	a := demotest.New(t)
	require.NoError(t, demo.Begin(ctx, a.Store, a.Catalog, demotest.Day, "x")) // a school without a past is soon read
	file := out(t, a.Store, demo.SchoolID, moveKey)
	to := keptUnder(t, demotest.New(t), demotest.Secret)
	refused := func(file []byte, key, want string) {
		err := into(to, file, key)
		var why *store.MovedError
		if assert.ErrorAs(t, err, &why, want) {
			assert.Contains(t, err.Error(), want)
		}
		assert.Zero(t, must(to.Schools(ctx)))
	}
	refused(file, "herons over the fens", "the key is not the one of this file")
	refused(file, "short", "at least 16")
	refused(nil, moveKey, "broken or cut short")
	refused([]byte("PK\x03\x04"), moveKey, "broken or cut short")
	for _, cut := range []int{len(file) - 1, len(file) / 2, 1000} {
		refused(file[:cut], moveKey, "broken or cut short")
	}
	for at := 0; at < len(file); at += len(file)/61 + 1 {
		flipped := bytes.Clone(file)
		flipped[at] ^= 0x10
		assert.Error(t, into(to, flipped, moveKey), at)
		assert.Zero(t, must(to.Schools(ctx)), at)
	}
	edited := func(change func(name string, data []byte) (string, []byte)) []byte {
		var out bytes.Buffer
		z := zip.NewWriter(&out)
		from := must(zip.NewReader(bytes.NewReader(file), int64(len(file))))
		for _, f := range from.File {
			data := must(io.ReadAll(must(f.Open())))
			name, data := change(f.Name, data)
			if name != "" {
				_ = must(must(z.Create(name)).Write(data))
			}
		}
		require.NoError(t, z.SetComment(strings.Repeat("0", 64)))
		require.NoError(t, z.Close())
		return provedBy(moveKey, out.Bytes())
	}
	replace := func(entry, old, with string) []byte {
		return edited(func(name string, data []byte) (string, []byte) {
			if name == entry {
				require.Contains(t, string(data), old)
				data = bytes.Replace(data, []byte(old), []byte(with), 1)
			}
			return name, data
		})
	}
	changed := replace("school.json", `"Tarn Hollow`, `"Farn Hollow`)
	refused(provedBy("the key of somebody else", changed), moveKey, "or the file was changed")
	refused(replace("school.json", `"format": 1`, `"format": 2`), moveKey, "reads jetprimer-school of format 1")
	refused(replace("school.json", `"kind"`, `"king"`), moveKey, "unknown field")
	refused(replace("students.jsonl", `"airplane`, `"seaplane`), moveKey, "students.jsonl is not what the file's manifest names")
	refused(replace("aircraft.jsonl", demo.SchoolID, "018f0000-0000-7000-8000-00000000ffff"), moveKey, "aircraft.jsonl, line 1: is of another school than the manifest names")
	refused(edited(func(name string, data []byte) (string, []byte) {
		if name == "library.jsonl" {
			data = data[:len(data)-5]
		}
		return name, data
	}), moveKey, "is cut short")
	refused(edited(func(name string, data []byte) (string, []byte) {
		if name == "bookings.jsonl" {
			name = ""
		}
		return name, data
	}), moveKey, "entries; a school has")
	refused(edited(func(name string, data []byte) (string, []byte) {
		if name == "bookings.jsonl" {
			name = "../bookings.jsonl"
		}
		return name, data
	}), moveKey, "does not hold bookings.jsonl")
	refused(edited(func(name string, data []byte) (string, []byte) {
		if name == "school.json" {
			name = "school.txt"
		}
		return name, data
	}), moveKey, "holds no school.json")

	require.NoError(t, into(to, file, moveKey))
	assert.ErrorContains(t, into(to, file, moveKey), "is in this database already")
	_, err := a.Store.ExportSchool(ctx, "018f0000-0000-7000-8000-00000000ffff", moveKey, io.Discard, quiet)
	assert.ErrorIs(t, err, store.ErrNotFound)
}
