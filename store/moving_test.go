package store_test

import (
	"archive/zip"
	"bytes"
	"context"
	"crypto/hmac"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"io"
	"maps"
	"net/url"
	"regexp"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/access"
	"jetprimer/core/form"
	"jetprimer/core/lesson"
	"jetprimer/core/practice"
	"jetprimer/core/schedule"
	"jetprimer/core/stand"
	"jetprimer/demo"
	"jetprimer/demo/schooltest"
	"jetprimer/mail"
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
	_, _, err := s.ImportSchool(context.Background(), bytes.NewReader(file), int64(len(file)), key, false,
		schooltest.Day, codes, quiet)
	return err
}

// keptUnder opens a database under a secret of its own.
func keptUnder(t *testing.T, d *schooltest.Database, secret string) *store.Store {
	s, err := store.Open(context.Background(), d.AppURL, secret, schooltest.Catalog(t))
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	return s
}

// TestASchoolMovesAndComesBack: to a second installation with a secret of its
// own, and from there to a third: every row is as it was, the chain holds, the
// files are the same bytes, and the school goes on signing.
func TestASchoolMovesAndComesBack(t *testing.T) {
	ctx := context.Background()
	a := schooltest.Demo(t, "x")
	b, c := schooltest.New(t), schooltest.New(t)
	moved, back := keptUnder(t, b, "another secret altogether"), keptUnder(t, c, schooltest.Secret)
	require.NoError(t, a.Store.SetSecond(ctx, demo.Whitlock.ID, []byte("a shared secret here"), 7))
	letters := mail.Server{
		Host: "smtp.school.example", Port: 465, Secured: true, User: "office", Password: "another shared secret",
		From: "office@school.example",
	}
	require.NoError(t,
		a.Store.In(ctx, demo.SchoolID,
			func(_ context.Context, tx *store.Tx) error { return tx.SetLetterServer(&letters) }))

	first := out(t, a.Store, demo.SchoolID, moveKey)
	require.NoError(t, into(moved, first, moveKey))
	second := out(t, moved, demo.SchoolID, moveKey)
	assert.True(t, bytes.Equal(first, second), "the file of the moved school is the same")
	require.NoError(t, into(back, second, moveKey))
	assert.True(t, bytes.Equal(first, out(t, back, demo.SchoolID, moveKey)))

	done, err := moved.FollowPolicy(ctx, demo.SchoolID, schooltest.Day.Add(23*time.Hour))
	require.NoError(t, err)
	assert.False(t, done, "the standings came along as they were kept")

	rows := func(d *schooltest.Database) map[string]string {
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
		_, err := tx.RotateKey(schooltest.Day)
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
	a := schooltest.New(t)
	require.NoError(t, demo.Begin(ctx, a.Store, a.Catalog, schooltest.Day, "x")) // a school without a past is soon read
	file := out(t, a.Store, demo.SchoolID, moveKey)
	to := keptUnder(t, schooltest.New(t), schooltest.Secret)
	refused := func(file []byte, key, want string) {
		err := into(to, file, key)
		var why form.Problem
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
	refused(replace("students.jsonl", `"airplane`, `"seaplane`), moveKey,
		"students.jsonl is not what the file's manifest names")
	refused(replace("aircraft.jsonl", demo.SchoolID, "018f0000-0000-7000-8000-00000000ffff"), moveKey,
		"aircraft.jsonl, line 1: is of another school than the manifest names")
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

// forge is a moved school's file with its lines changed, its manifest made to fit and proved by
// its key, as whoever took the school out could write it.
func forge(t testing.TB, file []byte, key string, change func(table string, lines []string) []string,
	manifest func(m *store.Manifest)) []byte {
	t.Helper()
	var out bytes.Buffer
	z := zip.NewWriter(&out)
	from := must(zip.NewReader(bytes.NewReader(file), int64(len(file))))
	var m store.Manifest
	for _, f := range from.File {
		if f.Name == "school.json" {
			require.NoError(t, json.NewDecoder(must(f.Open())).Decode(&m))
		}
	}
	for _, f := range from.File {
		table, isTable := strings.CutSuffix(f.Name, ".jsonl")
		if !isTable {
			continue
		}
		lines := strings.Split(strings.TrimSuffix(string(must(io.ReadAll(must(f.Open())))), "\n"), "\n")
		if lines[0] == "" {
			lines = nil
		}
		lines = change(table, lines)
		text := strings.Join(append(lines, ""), "\n")
		_ = must(must(z.Create(f.Name)).Write([]byte(text)))
		for i := range m.Tables {
			if m.Tables[i].Name == table {
				m.Tables[i].Rows, m.Tables[i].SHA256 = int64(len(lines)), fmt.Sprintf("%x", sha256.Sum256([]byte(text)))
			}
		}
	}
	if manifest != nil {
		manifest(&m)
	}
	_ = must(must(z.Create("school.json")).Write(must(json.Marshal(m))))
	require.NoError(t, z.SetComment(strings.Repeat("0", 64)))
	require.NoError(t, z.Close())
	derived := hmac.New(sha256.New, []byte(key))
	derived.Write([]byte("prove " + m.School))
	mac := hmac.New(sha256.New, derived.Sum(nil))
	mac.Write(out.Bytes()[:out.Len()-64])
	return append(bytes.Clone(out.Bytes()[:out.Len()-64]), hex.EncodeToString(mac.Sum(nil))...)
}

// asSuper connects to a database as somebody who sees all of it.
func asSuper(t testing.TB, d *schooltest.Database) string {
	u, err := url.Parse(schooltest.SuperURL())
	require.NoError(t, err)
	u.Path = "/" + must(pgx.ParseConfig(d.OwnerURL)).Database
	return u.String()
}

// full is the small school with something in most of its tables.
func full(t *testing.T) *small {
	s := smallSchool(t)
	run, session, score := practised(t, s, 60)
	id, note := uuid.NewString(), practice.Wish{
		Call: &practice.Call{Mark: lesson.Mark{Name: "note", Words: "w"}, Instructor: true},
	}
	head := run
	head.Deeds, head.Seed = []practice.Deed{}, 99
	for _, do := range []func(tx *store.Tx) error{
		func(tx *store.Tx) error { return tx.Notify(s.student, "told", at(0)) },
		func(tx *store.Tx) error { _, _, err := tx.TellLive(id, s.student, head, 0, 0, at(0)); return err },
		func(tx *store.Tx) error { return tx.Wish(id, note, s.instructor, at(0)) },
		func(tx *store.Tx) error { return tx.KeepPractice(uuid.NewString(), run, score, session, at(0)) },
		func(tx *store.Tx) error {
			return tx.Invite(store.Invitation{
				ID: uuid.NewString(),
				Member: access.Member{
					Name: "A guest", Email: "guest@small.example", Roles: access.Roles{access.Examiner},
				},
				Code: "x", InvitedBy: s.chief, InvitedAt: at(0), Until: at(9),
			}, on(0))
		},
		func(tx *store.Tx) error {
			return tx.AddRecordShare(store.RecordShare{
				ID: uuid.NewString(), StudentID: s.student, Whom: "them", Code: "x", Until: at(9), MadeBy: s.chief,
				MadeAt: at(0),
			})
		},
		func(tx *store.Tx) error {
			_, err := tx.NoteAway(schedule.Away{PersonID: s.instructor, StartsAt: at(1), EndsAt: at(2), Why: "leave"},
				s.chief, at(0))
			return err
		},
		func(tx *store.Tx) error {
			return tx.KeepScenario(stand.Scenario{
				ID: "frost", Title: "Frost", Type: "alder-110", Goal: "Start.", Difficulty: 3, Day: stand.StandardDay,
			}, s.chief, at(0))
		},
	} {
		require.NoError(t, s.in(do))
	}
	require.NoError(t,
		s.Store.Audit(context.Background(), store.AuditEntry{
			At: at(0), SchoolID: &s.id, AccountID: &s.chief, What: "signed in",
		}))
	return s
}

// TestAFileBringsOneSchoolAndNobodyElse: beside a school that is there, every id of every
// table of another one's file is changed to that of the school, and to that of a person of
// it: what would reach them is refused, and whatever is taken, they and theirs are as they
// were.
func TestAFileBringsOneSchoolAndNobodyElse(t *testing.T) {
	t.Parallel()
	ctx, from := context.Background(), full(t)
	file := out(t, from.Store, from.id, moveKey)
	target, victim := demo.SchoolID, demo.Okonjo.ID
	there := schooltest.Demo(t, "x")
	reached := func() (out string) { // what is told of the victim anywhere, and of their school
		super := must(pgx.Connect(ctx, asSuper(t, there)))
		defer super.Close(ctx)
		require.NoError(t, super.QueryRow(ctx, `select concat((select string_agg(concat(m.school_id, m.roles, m.active, m.name), ' ' order by m.school_id) from memberships m where account_id = $1),
			(select concat(password, name, email, recovery) from accounts where id = $1), (select concat(name, time_zone) from schools where id = $2),
			(select count(*) from memberships where school_id = $2), (select count(*) from signing_keys where school_id = $2), (select count(*) from audit where school_id = $2 or school_id is null),
			(select count(*) from lesson_events where school_id = $2), (select chain from school_feed where school_id = $2))`, victim, target).Scan(&out))
		return out
	}
	theirs, tried, taken := reached(), map[string]bool{}, 0
	try := func(what string, forged []byte, refused bool) {
		t.Helper()
		err := into(there.Store, forged, moveKey)
		if refused {
			var why form.Problem
			assert.ErrorAs(t, err, &why, "%s: %v", what, err)
		}
		require.Equal(t, theirs, reached(), "%s reaches another school or its person", what)
		if err == nil { // it named nobody else; the next one comes to a place without it
			taken++
			there = schooltest.Demo(t, "x")
		}
	}
	var columns [][2]string
	forge(t, file, moveKey, func(table string, lines []string) []string {
		if len(lines) == 0 {
			return lines
		}
		var row map[string]any
		require.NoError(t, json.Unmarshal([]byte(lines[0]), &row))
		for _, name := range slices.Sorted(maps.Keys(row)) {
			if text, isText := row[name].(string); isText && uuid.Validate(text) == nil && len(text) == 36 {
				columns = append(columns, [2]string{table, name})
			}
		}
		return lines
	}, nil)
	for _, at := range columns {
		for _, id := range map[bool][]string{true: {target},
			false: {victim}}[at[1] == "school_id" || at[0] == "schools"] {
			forged := forge(t, file, moveKey, func(table string, lines []string) []string {
				if table == at[0] {
					var row map[string]json.RawMessage
					require.NoError(t, json.Unmarshal([]byte(lines[0]), &row))
					row[at[1]] = must(json.Marshal(id))
					lines[0] = string(must(json.Marshal(row)))
				}
				return lines
			}, nil)
			person := strings.HasSuffix(at[1], "_by") ||
				slices.Contains([]string{"account_id", "student_id", "instructor_id", "examiner_id"}, at[1])
			try(at[0]+"."+at[1]+" as "+id, forged,
				at[1] == "school_id" || at[0] == "schools" || at[0] == "accounts" || person)
			tried[at[0]] = true
		}
	}
	double := func(of string, change func(line string) string) []byte {
		return forge(t, file, moveKey, func(table string, lines []string) []string {
			if table == of {
				lines = append(lines, change(lines[0]))
			}
			return lines
		}, nil)
	}
	same := func(line string) string { return line }
	for what, forged := range map[string][]byte{
		"the school that is there in the manifest": forge(t, file, moveKey,
			func(_ string, lines []string) []string { return lines }, func(m *store.Manifest) { m.School = target }),
		"two schools": double("schools",
			func(line string) string { return strings.Replace(line, from.id, uuid.NewString(), 1) }),
		"the school twice": double("schools", same),
		"an account twice": double("accounts", same),
		"an account of no member": double("accounts", func(line string) string {
			return strings.NewReplacer(line[7:43], uuid.NewString(), "@small", "@large").Replace(line)
		}),
		"an audit line of no school": double("audit",
			func(line string) string { return strings.Replace(line, `"`+from.id+`"`, "null", 1) }),
		"a member more": double("memberships", func(line string) string {
			return regexp.MustCompile(`"account_id":"[^"]*"`).ReplaceAllString(line, `"account_id":"`+victim+`"`)
		}),
		"a column twice": double("notices",
			func(line string) string { return strings.Replace(line, "{", `{"school_id":"`+target+`",`, 1) }),
		"a column more": double("notices",
			func(line string) string { return strings.Replace(line, "{", `{"read":true,`, 1) }),
		"a column less": double("notices",
			func(line string) string { return strings.Replace(line, `,"read_at":null`, "", 1) }),
		"another name than the manifest's": forge(t, file, moveKey,
			func(_ string, lines []string) []string { return lines },
			func(m *store.Manifest) { m.Name = "Tarn Hollow" }),
		"what is no object": double("notices", func(string) string { return `[1]` }),
		"what nests without end": double("notices",
			func(string) string { return strings.Repeat("[", 90) + strings.Repeat("]", 90) }),
	} {
		try(what, forged, true)
	}
	t.Logf("%d fields of %d tables, %d were taken", len(columns), len(tried), taken)
	assert.Greater(t, len(columns), 60)
	assert.Greater(t, len(tried), 25)
}

// TestWhoIsHereAlreadyIsInvited: a member of the moved school who has an account here keeps it
// as it is, and comes in by a code; everybody else signs in as before.
func TestWhoIsHereAlreadyIsInvited(t *testing.T) {
	ctx, from, to := context.Background(), full(t), schooltest.New(t)
	own := store.Account{
		ID: from.instructor, Email: "instructor@small.example", Name: "Their own name", Password: "their own",
	}
	require.NoError(t, to.Store.AddAccount(ctx, own))
	file := out(t, from.Store, from.id, moveKey)
	_, invited, err := to.Store.ImportSchool(ctx, bytes.NewReader(file), int64(len(file)), moveKey, false, at(0), codes,
		quiet)
	require.NoError(t, err)
	require.Len(t, invited, 1)
	assert.Equal(t, "CODE", invited[0].Code)
	memberships := func(id string) int { return len(must(to.Store.Memberships(ctx, id))) }
	assert.Equal(t, []int{0, 1, 1},
		[]int{memberships(from.instructor), memberships(from.chief), memberships(from.student)})
	kept := must(to.Store.AccountByID(ctx, from.instructor))
	assert.Equal(t, "their own", kept.Password)
	require.NoError(t, to.Store.In(ctx, from.id, func(_ context.Context, tx *store.Tx) error {
		i := must(tx.Invitation(invited[0].Invitation))
		assert.Equal(t, access.Roles{access.Instructor}, i.Roles)
		return tx.Enter(i, kept, false, on(0), at(0))
	}))
	assert.Equal(t, 1, memberships(from.instructor))

	other := schooltest.New(t)
	own.ID = uuid.NewString()
	require.NoError(t, other.Store.AddAccount(ctx, own))
	assert.ErrorContains(t, into(other.Store, file, moveKey), "belongs to another person here")
}
