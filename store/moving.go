package store

import (
	"archive/zip"
	"bufio"
	"bytes"
	"context"
	"crypto/hmac"
	"crypto/rand"
	"crypto/sha256"
	"database/sql"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"hash"
	"io"
	"slices"
	"strings"

	"gorm.io/gorm"

	"jetprimer/core/form"
)

// A school is moved as one file: a zip of its tables, one JSON object a line,
// and a manifest that names every table with its rows and hash. The file ends with
// its proof by its key, as the comment of the zip. What the installation's secret
// encrypts is encrypted under that key instead. The same school gives the same
// bytes under the same key, wherever it lies.
const (
	movedKind   = "jetprimer-school"
	movedFormat = 1
	// manifestName is the last entry of the file.
	manifestName = "school.json"
	// Bounds of what is read.
	maxManifest   = 1 << 20
	maxMovedLine  = 16 << 20
	maxMovedBatch = 1 << 20
	maxMovedFile  = 64 << 30
)

// Manifest says what a moved school's file holds.
type Manifest struct {
	Kind   string `json:"kind"`
	Format int    `json:"format"`
	Schema int64  `json:"schema"`
	School string `json:"school"`
	Name   string `json:"name"`
	// Seals and Head are how long the school's chain is, and its last hash.
	Seals  int64        `json:"seals"`
	Head   string       `json:"head"`
	Tables []MovedTable `json:"tables"`
}

// MovedTable is one table of the file.
type MovedTable struct {
	Name   string `json:"name"`
	Rows   int64  `json:"rows"`
	SHA256 string `json:"sha256"`
}

func moved(format string, args ...any) error {
	return form.Problem{Reason: fmt.Sprintf(format, args...)}
}

// MoveKey makes a key for a file.
func MoveKey() string { return rand.Text() }

// moveKey derives what encrypts and proves from a file's key.
type moveKey struct {
	boxed
	prove []byte
}

func newMoveKey(key, school string) (moveKey, error) {
	if len(key) < MinSecret {
		return moveKey{}, moved("the key of the file has %d characters; it needs at least %d", len(key), MinSecret)
	}
	derive := func(what string) []byte {
		h := hmac.New(sha256.New, []byte(key))
		h.Write([]byte(what + " " + school))
		return h.Sum(nil)
	}
	box, err := newBox(derive("encrypt"))
	return moveKey{box, derive("prove")}, err
}

// close encrypts a secret; the nonce comes of the secret itself, so that the same
// secret gives the same bytes.
func (k moveKey) close(secret, of []byte) []byte {
	h := hmac.New(sha256.New, k.prove)
	h.Write(of)
	h.Write(secret)
	return k.rebox(secret, of, h.Sum(nil)[:k.NonceSize()])
}

// proofBytes is how long a file's proof is: an HMAC-SHA-256 in hexadecimal, over
// all that comes before it.
const proofBytes = 2 * sha256.Size

// proving writes a file and holds back its last bytes, whose place the proof of
// those before takes in the end.
type proving struct {
	to   io.Writer
	mac  hash.Hash
	tail []byte
}

func (p *proving) Write(data []byte) (int, error) {
	p.tail = append(p.tail, data...)
	ready := max(0, len(p.tail)-proofBytes)
	p.mac.Write(p.tail[:ready])
	if _, err := p.to.Write(p.tail[:ready]); err != nil {
		return 0, err
	}
	p.tail = slices.Clone(p.tail[ready:])
	return len(data), nil
}

// prove writes the proof.
func (p *proving) prove() error {
	_, err := io.WriteString(p.to, hex.EncodeToString(p.mac.Sum(nil)))
	return err
}

// proved reports whether a file ends with the proof of all that comes before.
func (k moveKey) proved(file io.ReaderAt, size int64) (bool, error) {
	if size < proofBytes {
		return false, nil
	}
	mac, proof := hmac.New(sha256.New, k.prove), make([]byte, proofBytes)
	if _, err := io.Copy(mac, io.NewSectionReader(file, 0, size-proofBytes)); err != nil {
		return false, err
	}
	if _, err := file.ReadAt(proof, size-proofBytes); err != nil && !errors.Is(err, io.EOF) {
		return false, err
	}
	return hmac.Equal(proof, []byte(hex.EncodeToString(mac.Sum(nil)))), nil
}

// table is a table of schools as the database describes it.
type table struct {
	Name    string
	Columns IDs
	Order   IDs
	After   IDs
	// Persons are the columns that name a person.
	Persons IDs
}

// tables are the tables with a school's rows, each behind those that it refers
// to. Numbers that the database gives by itself are no columns of theirs.
func tables(db *gorm.DB) ([]table, error) {
	var all []table
	err := db.Raw(`select c.relname as name,
			(select jsonb_agg(quote_ident(a.attname) order by a.attnum) from pg_attribute a
				where a.attrelid = c.oid and a.attnum > 0 and not a.attisdropped and a.attidentity = '' and a.attgenerated = '') as columns,
			(select jsonb_agg(quote_ident(a.attname) order by k.n) from pg_index i, unnest(i.indkey) with ordinality k(attnum, n), pg_attribute a
				where i.indrelid = c.oid and i.indisprimary and a.attrelid = c.oid and a.attnum = k.attnum) as "order",
			coalesce((select jsonb_agg(a.attname) from pg_attribute a where a.attrelid = c.oid and a.attnum > 0 and not a.attisdropped and a.atttypid = 'uuid'::regtype
				and (a.attname like '%\_by' or a.attname in ('account_id', 'student_id', 'instructor_id', 'examiner_id'))), '[]') as persons,
			coalesce((select jsonb_agg(distinct r.relname) from pg_constraint f join pg_class r on r.oid = f.confrelid
				where f.conrelid = c.oid and f.contype = 'f' and f.confrelid <> c.oid), '[]') as after
		from pg_class c where c.relnamespace = 'public'::regnamespace and c.relkind in ('r', 'p') and not c.relispartition
			and c.relname <> 'kept_reports' -- what can be made anew
			and exists (select from pg_attribute a where a.attrelid = c.oid and a.attname = 'school_id' and not a.attisdropped)
		order by c.relname`).Scan(&all).Error
	if err != nil {
		return nil, fmt.Errorf("reading the tables: %w", plain(err))
	}
	out := []table{}
	for len(all) > 0 {
		i := slices.IndexFunc(all, func(t table) bool {
			return !slices.ContainsFunc(t.After, func(name string) bool {
				return slices.ContainsFunc(all, func(other table) bool { return other.Name == name })
			})
		})
		if i < 0 {
			return nil, errors.New("the tables refer to each other in a circle")
		}
		out = append(out, all[i])
		all = slices.Delete(all, i, i+1)
	}
	for i, t := range out {
		if len(t.Order) == 0 {
			out[i].Order = t.Columns
		}
	}
	return out, nil
}

// accountColumns are what of a person moves: not the codes by which somebody
// comes back.
const accountColumns = "id, email, name, password, units, pin, device_keys, passkeys, second, second_used"

// movedQuery is one of the tables of a file in their order, with the columns
// that it has and the query of its rows.
type movedQuery struct {
	name, columns, rows string
	persons             []string
}

func movedQueries(db *gorm.DB) ([]movedQuery, error) {
	all, err := tables(db)
	if err != nil {
		return nil, err
	}
	out := []movedQuery{
		{
			name: "schools", columns: "id, name, created_at, time_zone, idle_hours, settings, letters",
			rows: "from schools where id = @school",
		},
		{
			name: "accounts", columns: accountColumns,
			rows: "from accounts where id in (select account_id from memberships where school_id = @school) order by id",
		},
	}
	for _, t := range all {
		columns := strings.Join(t.Columns, ", ")
		out = append(out, movedQuery{
			t.Name, columns, "from " + t.Name + " where school_id = @school order by " + strings.Join(t.Order, ", "),
			t.Persons,
		})
	}
	return out, nil
}

// ExportSchool writes everything that a school owns into one file, as it stands
// at one moment. progress hears of each table.
func (s *Store) ExportSchool(ctx context.Context, school, key string, w io.Writer,
	progress func(table string, rows int64)) (Manifest, error) {
	m := Manifest{Kind: movedKind, Format: movedFormat, School: school, Tables: []MovedTable{}}
	mk, err := newMoveKey(key, school)
	if err != nil {
		return m, err
	}
	err = s.db.WithContext(ctx).Transaction(func(db *gorm.DB) error {
		if err := enterToMove(db, school); err != nil {
			return err
		}
		if m.Schema, err = schemaOf(db); err != nil {
			return err
		}
		row := struct {
			Name  string
			Seals int64
			Chain []byte
		}{}
		done := db.Raw("select s.name, f.seals, f.chain from schools s join school_feed f on f.school_id = s.id "+
			"where s.id = ?::uuid", school).Scan(&row)
		switch {
		case done.Error != nil:
			return plain(done.Error)
		case done.RowsAffected == 0:
			return ErrNotFound
		}
		m.Name, m.Seals, m.Head = row.Name, row.Seals, hex.EncodeToString(row.Chain)
		queries, err := movedQueries(db)
		if err != nil {
			return err
		}
		sealed := &proving{to: w, mac: hmac.New(sha256.New, mk.prove)}
		z := zip.NewWriter(sealed)
		if err := z.SetComment(strings.Repeat("0", proofBytes)); err != nil {
			return err
		}
		for _, q := range queries {
			t, err := s.exportTable(db, z, mk, school, q)
			if err != nil {
				return fmt.Errorf("writing %s: %w", q.name, err)
			}
			m.Tables = append(m.Tables, t)
			progress(t.Name, t.Rows)
		}
		data, err := json.MarshalIndent(m, "", "  ")
		if err != nil {
			return err
		}
		entry, err := z.Create(manifestName)
		if err == nil {
			_, err = entry.Write(append(data, '\n'))
		}
		if err != nil {
			return err
		}
		if err := z.Close(); err != nil {
			return err
		}
		return sealed.prove()
	}, &sql.TxOptions{Isolation: sql.LevelRepeatableRead, ReadOnly: true})
	return m, err
}

// enterToMove shows one school's rows, with times as a file has them, for as
// long as it takes.
func enterToMove(db *gorm.DB, school string) error {
	err := db.Exec(`select set_config('app.school', ?, true), set_config('TimeZone', 'UTC', true), set_config('statement_timeout', '0', true),
		set_config('bytea_output', 'hex', true), set_config('lock_timeout', ?, true)`, school, lockTimeout).Error
	return plain(err)
}

func schemaOf(db *gorm.DB) (version int64, err error) {
	err = db.Raw("select max(version_id) from goose_db_version where is_applied").Scan(&version).Error
	return version, plain(err)
}

func (s *Store) exportTable(db *gorm.DB, z *zip.Writer, mk moveKey, school string, q movedQuery) (MovedTable, error) {
	t := MovedTable{Name: q.name}
	entry, err := z.Create(q.name + ".jsonl")
	if err != nil {
		return t, err
	}
	sum := sha256.New()
	out := bufio.NewWriterSize(io.MultiWriter(entry, sum), 64<<10)
	rows, err := db.Raw("select row_to_json(r)::text from (select "+q.columns+" "+q.rows+") r",
		sql.Named("school", school)).Rows()
	if err != nil {
		return t, plain(err)
	}
	defer rows.Close()
	for rows.Next() {
		var line []byte
		if err := rows.Scan(&line); err != nil {
			return t, err
		}
		if line, err = s.reseal(q.name, line, func(kept, of []byte) ([]byte, error) {
			secret, err := s.unbox(kept, of)
			if err != nil {
				return nil, err
			}
			return mk.close(secret, of), nil
		}); err != nil {
			return t, err
		}
		if bytes.IndexByte(line, '\n') >= 0 {
			return t, errors.New("a row breaks over lines")
		}
		if _, err := out.Write(append(line, '\n')); err != nil {
			return t, err
		}
		t.Rows++
	}
	if err := rows.Err(); err != nil {
		return t, plain(err)
	}
	if err := out.Flush(); err != nil {
		return t, err
	}
	t.SHA256 = hex.EncodeToString(sum.Sum(nil))
	return t, nil
}

// secrets are the columns that are encrypted, by their tables, and what each is
// bound to.
var secrets = map[string]struct {
	column string
	of     func(row map[string]json.RawMessage) string
}{
	"signing_keys": {"private", func(row map[string]json.RawMessage) string { return text(row["school_id"]) }},
	"schools": {
		"letters", func(row map[string]json.RawMessage) string { return string(lettersOf(text(row["id"]))) },
	},
	"accounts": {"second", func(row map[string]json.RawMessage) string { return "second " + text(row["id"]) }},
}

func text(raw json.RawMessage) string {
	var s string
	_ = json.Unmarshal(raw, &s) // what is no text is empty, and opens nothing
	return s
}

// reseal puts what a row keeps encrypted under another key.
func (s *Store) reseal(table string, line []byte, again func(kept, of []byte) ([]byte, error)) ([]byte, error) {
	secret, has := secrets[table]
	if !has {
		return line, nil
	}
	var row map[string]json.RawMessage
	if err := json.Unmarshal(line, &row); err != nil {
		return nil, err
	}
	if kept, err := hex.DecodeString(strings.TrimPrefix(text(row[secret.column]), `\x`)); err != nil {
		return nil, fmt.Errorf("%s is not in hexadecimal", secret.column)
	} else if len(kept) > 0 {
		closed, err := again(kept, []byte(secret.of(row)))
		if err != nil {
			return nil, err
		}
		row[secret.column] = json.RawMessage(`"\\x` + hex.EncodeToString(closed) + `"`)
	}
	return json.Marshal(row)
}
