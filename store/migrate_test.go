package store_test

import (
	"bytes"
	"context"
	"database/sql"
	"fmt"
	"net/url"
	"os"
	"strings"
	"testing"

	"github.com/jackc/pgx/v5"
	"github.com/pressly/goose/v3"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/demo/schooltest"
	"jetprimer/store"
)

// before are schemas that a database may be at: that of the first release, and
// that of the version before.
var before = []int64{1, 16}

// became is what stands now for a column of an older schema.
var became = map[string]string{"role": "roles->>0"}

// today are the columns of an older schema as they are read now.
func (c columns) today() columns {
	for was, now := range became {
		c.list = strings.ReplaceAll(", "+c.list+", ", ", "+was+", ", ", "+now+", ")
		c.list = strings.Trim(c.list, ", ")
	}
	return c
}

// held are the rows of a table that an older schema could hold: the first one
// sealed nothing but lessons.
func (c columns) held() string {
	if c.table == "seals" && !strings.Contains(c.list, "subject") {
		return " where lesson_id is not null"
	}
	return ""
}

// TestMigrationsKeepWhatOlderVersionsHeld: a database of the first release and one
// of the version before, with a whole school in each, are brought to this version:
// every row of every table is there as it was, and this program serves it.
func TestMigrationsKeepWhatOlderVersionsHeld(t *testing.T) {
	for _, schema := range before {
		t.Run(fmt.Sprint("schema ", schema), func(t *testing.T) { keepsWhatWasHeld(t, schema) })
	}
}

func keepsWhatWasHeld(t *testing.T, schema int64) {
	ctx := context.Background()
	school := schooltest.Demo(t, "x")
	name := fmt.Sprintf("before_%d_%d", schema, os.Getpid())
	ownerURL, appURL, err := store.Provision(ctx, schooltest.SuperURL(), name, "owner", "app")
	require.NoError(t, err)
	up(t, ownerURL, schema)
	in := func(database string) *pgx.Conn {
		u, err := url.Parse(schooltest.SuperURL())
		require.NoError(t, err)
		u.Path = "/" + database
		conn, err := pgx.Connect(ctx, u.String())
		require.NoError(t, err)
		t.Cleanup(func() { _ = conn.Close(ctx) })
		return conn
	}
	from, err := pgx.ParseConfig(school.OwnerURL)
	require.NoError(t, err)
	now, old := in(from.Database), in(name)

	// The demo's school, as the version before would hold it.
	_, err = old.Exec(ctx, "set session_replication_role = replica")
	require.NoError(t, err)
	held := tables(t, old)
	require.Greater(t, len(held), 15)
	for _, columns := range held {
		var data bytes.Buffer
		_, err = now.PgConn().CopyTo(ctx, &data,
			"copy (select "+columns.today().list+" from "+columns.table+columns.held()+") to stdout")
		require.NoError(t, err, columns.table)
		_, err = old.PgConn().CopyFrom(ctx, &data, "copy "+columns.table+" ("+columns.list+") from stdin")
		require.NoError(t, err, columns.table)
	}
	_, err = old.Exec(ctx, "insert into sessions (token, data, expiry) values ('t', '', now() + interval '1 day')")
	require.NoError(t, err)
	// One signed lesson was worked on the stand.
	_, err = old.Exec(ctx, `insert into lesson_events (school_id, lesson_id, id, device, seq, counter, at_ms, wall, kind, v, payload, sent_by, received_at)
		select l.school_id, l.id, gen_random_uuid(), 'tablet', 9000, 9000, 1, '', 'practice-place', 1, '{"place":"stand"}', l.instructor_id, now()
		from lessons l where status = 'signed' order by opened_at, id limit 1`)
	require.NoError(t, err)
	before := contents(t, old, held)
	require.Contains(t, before["lesson_events"], "lesson-opened")

	require.NoError(t, store.Migrate(ctx, ownerURL))
	for i, c := range held {
		held[i] = c.today()
	}
	after := contents(t, old, held)
	for _, columns := range held {
		if columns.table == "sessions" && schema < 3 {
			continue // everybody signs in again
		}
		assert.Equal(t, before[columns.table], after[columns.table], "%s is as it was", columns.table)
	}
	var differing int
	require.NoError(t,
		old.QueryRow(ctx,
			"select count(*) from lessons l where not exists (select from lesson_events e where e.lesson_id = l.id "+
				"and e.id = l.opened_event and e.kind = 'lesson-opened')").Scan(&differing))
	assert.Zero(t, differing, "every lesson knows the event that opened it")

	var called int
	require.NoError(t,
		old.QueryRow(ctx,
			"select count(*) from memberships m join accounts a on a.id = m.account_id where m.name = a.name and "+
				"m.name <> ''").Scan(&called))
	assert.Positive(t, called, "everybody is called as they were")
	require.NoError(t, old.QueryRow(ctx, "select count(*) from memberships where name = ''").Scan(&differing))
	assert.Zero(t, differing)

	var elsewhere, aircraft int
	require.NoError(t,
		old.QueryRow(ctx,
			"select count(distinct lesson_id) filter (where practice <> 'aircraft'), count(distinct lesson_id) "+
				"filter (where practice = 'aircraft') from observations").Scan(&elsewhere, &aircraft))
	if schema < 13 && strings.Contains(before["observations"], ",") {
		assert.Equal(t, 1, elsewhere, "what was shown on the stand is told apart")
		assert.Greater(t, aircraft, 30)
	}

	// A server of the version before, which runs on for a while, writes what it always wrote.
	_, err = old.Exec(ctx, "set session_replication_role = origin")
	require.NoError(t, err)
	var calledAs, begun string
	require.NoError(t, old.QueryRow(ctx, `with who as (insert into accounts (id, email, name, password) values (gen_random_uuid(), 'late@tarnhollow.example', 'Somebody late', 'x') returning id)
		select id::text from who`).Scan(&begun))
	require.NoError(t,
		old.QueryRow(ctx,
			"insert into memberships (school_id, account_id, roles, active, number) select id, $1, '[\"student\"]', "+
				"true, '' from schools limit 1 returning name", begun).Scan(&calledAs))
	assert.Equal(t, "Somebody late", calledAs)
	require.NoError(t, old.QueryRow(ctx, `insert into practice_runs (school_id, id, student_id, type, title, mode, made_at, on_day, seconds, right_items, off_items, decision, answered, run, score, digest)
		select id, gen_random_uuid(), $1, 'alder-110', 't', 'alone', now(), current_date, 60, 1, 0, 'grounded', true, '', '{}', 'd' from schools limit 1 returning began_at::text`, begun).Scan(&begun))
	assert.NotEmpty(t, begun)

	s, err := store.Open(ctx, appURL, schooltest.Secret, school.Catalog)
	require.NoError(t, err, "this program serves it")
	require.NoError(t, s.Close())
}

// up brings a database to a schema.
func up(t *testing.T, ownerURL string, version int64) {
	db, err := sql.Open("pgx", ownerURL)
	require.NoError(t, err)
	defer db.Close()
	_, err = db.Exec("grant usage on schema public to " + store.AppRole)
	require.NoError(t, err)
	provider, err := goose.NewProvider(goose.DialectPostgres, db, os.DirFS("migrations"))
	require.NoError(t, err)
	_, err = provider.UpTo(context.Background(), version)
	require.NoError(t, err)
}

type columns struct{ table, list string }

// tables are the tables of a database, without the partitions and the notes of
// the migrations, with their columns.
func tables(t *testing.T, conn *pgx.Conn) []columns {
	rows, err := conn.Query(context.Background(), `select c.table_name, string_agg(quote_ident(c.column_name), ', ' order by c.ordinal_position)
		from information_schema.columns c join pg_class k on k.relname = c.table_name and k.relkind in ('r', 'p') and not k.relispartition
		where c.table_schema = 'public' and c.table_name <> 'goose_db_version' group by 1 order by 1`)
	require.NoError(t, err)
	out, err := pgx.CollectRows(rows,
		func(row pgx.CollectableRow) (c columns, err error) { return c, row.Scan(&c.table, &c.list) })
	require.NoError(t, err)
	return out
}

// contents are the rows of tables, sorted.
func contents(t *testing.T, conn *pgx.Conn, all []columns) map[string]string {
	out := map[string]string{}
	for _, c := range all {
		rows, err := conn.Query(context.Background(), "select row("+c.list+")::text from "+c.table+" order by 1")
		require.NoError(t, err)
		lines, err := pgx.CollectRows(rows, pgx.RowTo[string])
		require.NoError(t, err)
		out[c.table] = strings.Join(lines, "\n")
	}
	return out
}
