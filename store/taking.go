package store

import (
	"archive/zip"
	"bufio"
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"
	"gorm.io/gorm"

	"jetprimer/core/form"
)

// Codes makes a one-time code, and the hash that is kept of it.
type Codes func() (code, hash string, err error)

// invitedFor is how long a member who has an account here already may take to come in.
const invitedFor = 14 * 24 * time.Hour

// taking is a moved school that is being taken over.
type taking struct {
	*Tx
	zip      *zip.Reader
	manifest Manifest
	key      moveKey
	// brought are the accounts of the file, by their ids; here says that one is of this
	// installation already.
	brought map[string]bool
	seen    int // rows of schools
}

// ImportSchool takes a school over from its file: all of it or nothing. The file brings just
// one school that is not here, and nothing of anybody else: each row is of that school, and
// everybody whom a row names is one of its members. Who has an account here already is not
// enrolled by it: their place waits for them, and they are invited by the codes that are
// given back. First refuses where there is a school already. progress hears of each table.
func (s *Store) ImportSchool(ctx context.Context, file io.ReaderAt, size int64, key string, first bool, now time.Time,
	codes Codes, progress func(table string, rows int64)) (Manifest, []Welcome, error) {
	z, err := zip.NewReader(file, size)
	if err != nil {
		return Manifest{}, nil, moved("the file is broken or cut short: %v", err)
	}
	m, mk, err := readManifest(z, key)
	if err != nil {
		return m, nil, err
	}
	if sound, err := mk.proved(file, size); err != nil || !sound {
		return m, nil, errors.Join(err, moved("the key is not the one of this file, or the file was changed"))
	}
	var invited []Welcome
	err = s.db.WithContext(ctx).Transaction(func(db *gorm.DB) error {
		t := &taking{&Tx{db: db, store: s, School: m.School}, z, m, mk, map[string]bool{}, 0}
		if err := enterToMove(db, m.School); err != nil {
			return err
		}
		queries, err := movedQueries(db)
		if err != nil {
			return err
		}
		if err := fits(db, z, m, queries); err != nil {
			return err
		}
		for i, q := range queries {
			if err := t.take(q, m.Tables[i]); err != nil {
				return err
			}
			progress(q.name, m.Tables[i].Rows)
		}
		if err := t.first(first); err != nil {
			return err
		}
		if err := t.closed(queries); err != nil {
			return err
		}
		if err := t.proves(); err != nil {
			return err
		}
		invited, err = t.invites(now, codes)
		return err
	})
	return m, invited, err
}

// proves holds the school to its own chain, and the chain to what the file names.
func (t *taking) proves() error {
	own, err := take[School](t.db.Where("id = ?", t.School))
	if err != nil {
		return plain(err)
	}
	t.settings = own.Settings
	if t.Zone, err = time.LoadLocation(own.TimeZone); err != nil {
		return moved("the school's time zone %q is not known here", own.TimeZone)
	}
	if own.Name != t.manifest.Name {
		return moved("the school is called %s and the file names %s", form.Clip(own.Name), form.Clip(t.manifest.Name))
	}
	chain, err := t.VerifyChain()
	switch {
	case err != nil:
		return moved("the school's chain of signatures does not hold: %v", err)
	case chain.Seals != t.manifest.Seals || t.manifest.Seals > 0 && chain.Head != t.manifest.Head:
		return moved("the school's chain of signatures is not the one that the file names")
	}
	return nil
}

// closed refuses a file that names somebody who is no member of the school, or brings an
// account that is none.
func (t *taking) closed(queries []movedQuery) error {
	if t.seen != 1 {
		return moved("the file holds %d schools and not one", t.seen)
	}
	for _, q := range queries {
		for _, column := range q.persons {
			strangers, err := rows[string](t.Tx,
				"select distinct "+column+"::text from "+q.name+" r where school_id = ? and "+column+
					" is not null and not exists (select from memberships m where m.school_id = r.school_id and "+
					"m.account_id = r."+column+") limit 1", t.School)
			if err != nil {
				return fmt.Errorf("looking for strangers in %s: %w", q.name, plain(err))
			}
			if len(strangers) > 0 {
				return moved("%s.jsonl names somebody as %s who is no member of the school", q.name, column)
			}
		}
	}
	members, err := rows[string](t.Tx, "select account_id::text from memberships where school_id = ?", t.School)
	if err != nil {
		return plain(err)
	}
	for _, id := range members {
		if _, brought := t.brought[id]; !brought {
			return moved("memberships.jsonl enrols somebody whom accounts.jsonl does not bring")
		}
	}
	if len(members) != len(t.brought) {
		return moved("accounts.jsonl brings somebody who is no member of the school")
	}
	return nil
}

// invites ends the places of those who have an account here already, and invites them.
func (t *taking) invites(now time.Time, codes Codes) ([]Welcome, error) {
	out := []Welcome{}
	for id, here := range t.brought {
		if !here {
			continue
		}
		m, err := t.Member(id)
		if err != nil {
			return nil, err
		}
		if !m.Active {
			continue
		}
		if err := t.own(&membership{}).Where("account_id = ?", id).Update("active", false).Error; err != nil {
			return nil, err
		}
		code, hash, err := codes()
		if err != nil {
			return nil, err
		}
		i := invitationRow{
			SchoolID: t.School, ID: uuid.Must(uuid.NewV7()).String(), Email: m.Email, Name: m.Name, Roles: m.Roles,
			Number: m.Number, Code: hash, InvitedBy: id, InvitedAt: now, Until: now.Add(invitedFor),
		}
		if err := t.db.Create(&i).Error; err != nil {
			return nil, err
		}
		out = append(out, Welcome{m.Name, i.ID, code})
	}
	slices.SortFunc(out, func(a, b Welcome) int { return strings.Compare(a.Name, b.Name) })
	return out, nil
}

// readManifest reads what a file says that it holds, and derives its keys.
func readManifest(z *zip.Reader, key string) (Manifest, moveKey, error) {
	var m Manifest
	i := slices.IndexFunc(z.File, func(f *zip.File) bool { return f.Name == manifestName })
	if i < 0 {
		return m, moveKey{}, moved("the file is no moved school: it holds no %s", manifestName)
	}
	entry, err := z.File[i].Open()
	if err != nil {
		return m, moveKey{}, moved("%s cannot be read: %v", manifestName, err)
	}
	defer entry.Close()
	data, err := io.ReadAll(io.LimitReader(entry, maxManifest))
	if err != nil {
		return m, moveKey{}, moved("%s cannot be read: %v", manifestName, err)
	}
	d := json.NewDecoder(bytes.NewReader(data))
	d.DisallowUnknownFields()
	if err := d.Decode(&m); err != nil {
		return m, moveKey{}, moved("%s cannot be read: %v", manifestName, err)
	}
	if m.Kind != movedKind || m.Format != movedFormat {
		return m, moveKey{}, moved("the file is %q of format %d; this program reads %s of format %d", m.Kind, m.Format,
			movedKind, movedFormat)
	}
	mk, err := newMoveKey(key, m.School)
	return m, mk, err
}

// fits refuses a file of another schema, or whose entries are not just the tables.
func fits(db *gorm.DB, z *zip.Reader, m Manifest, queries []movedQuery) error {
	schema, err := schemaOf(db)
	if err != nil {
		return err
	}
	if schema != m.Schema {
		return moved("the file was written at schema %d and this program is at %d: bring both installations to one "+
			"version first", m.Schema, schema)
	}
	if len(m.Tables) != len(queries) || len(z.File) != len(queries)+1 {
		return moved("the file has %d tables and %d entries; a school has %d tables", len(m.Tables), len(z.File),
			len(queries))
	}
	whole := uint64(0)
	for i, q := range queries {
		if m.Tables[i].Name != q.name {
			return moved("the file has the table %s where %s belongs", m.Tables[i].Name, q.name)
		}
	}
	for _, f := range z.File {
		whole += f.UncompressedSize64
	}
	if whole > maxMovedFile {
		return moved("the file holds %d bytes; at most %d are read", whole, uint64(maxMovedFile))
	}
	return nil
}

// take puts the rows of a table in, some at a time, and refuses them if they are not those
// that the manifest names, or not the school's own.
func (t *taking) take(q movedQuery, want MovedTable) error {
	i := slices.IndexFunc(t.zip.File, func(f *zip.File) bool { return f.Name == q.name+".jsonl" })
	if i < 0 {
		return moved("the file does not hold %s.jsonl", q.name)
	}
	entry, err := t.zip.File[i].Open()
	if err != nil {
		return moved("%s.jsonl cannot be read: %v", q.name, err)
	}
	defer entry.Close()
	insert := "insert into " + q.name + " (" + q.columns + ") select " + q.columns +
		" from json_populate_recordset(null::" + q.name + ", ?::json)"
	b := rowBatch{db: t.db, insert: insert}
	sum, rows := sha256.New(), int64(0)
	columns := strings.Split(strings.ReplaceAll(q.columns, `"`, ""), ", ")
	lines := bufio.NewReaderSize(io.TeeReader(entry, sum), 64<<10)
	for {
		line, err := readLine(lines)
		if errors.Is(err, io.EOF) {
			break
		}
		rows++
		keep := err == nil
		if err == nil {
			line, keep, err = t.row(q.name, columns, line)
		}
		if err != nil {
			return moved("%s.jsonl, line %d: %v", q.name, rows, err)
		}
		if !keep {
			continue
		}
		if err := b.add(line); err != nil {
			return movedRow(q.name, rows, err)
		}
	}
	if err := b.flush(); err != nil {
		return movedRow(q.name, rows, err)
	}
	if rows != want.Rows || hex.EncodeToString(sum.Sum(nil)) != want.SHA256 {
		return moved("%s.jsonl is not what the file's manifest names: it was changed or cut short", q.name)
	}
	return nil
}

// row is a row as it is put in: it has just the columns of its table, each once, and is of
// the school that the manifest names. keep is false for an account that is here already.
func (t *taking) row(table string, columns []string, line []byte) (out []byte, keep bool, err error) {
	row, err := members(line)
	if err != nil {
		return nil, false, err
	}
	for _, name := range columns {
		if _, has := row[name]; !has {
			return nil, false, fmt.Errorf("%s is missing", name)
		}
	}
	if len(row) != len(columns) {
		return nil, false, fmt.Errorf("has %d members where the table has %d columns", len(row), len(columns))
	}
	switch table {
	case "schools":
		t.seen++
		if text(row["id"]) != t.School {
			return nil, false, errors.New("is another school than the manifest names")
		}
	case "accounts":
		if keep, err = t.account(row); err != nil || !keep {
			return nil, false, err
		}
	default:
		if text(row["school_id"]) != t.School {
			return nil, false, errors.New("is of another school than the manifest names")
		}
	}
	line, err = t.store.reseal(table, line, func(closed, of []byte) ([]byte, error) {
		secret, err := t.key.unbox(closed, of)
		if err != nil {
			return nil, err
		}
		return t.store.rebox(secret, of)
	})
	return line, true, err
}

// members are those of a row, each of which stands there once; what is in them is as it was
// kept.
func members(line []byte) (map[string]json.RawMessage, error) {
	if form.Depth(line) > movedDepth {
		return nil, fmt.Errorf("nests deeper than %d levels", movedDepth)
	}
	d := json.NewDecoder(bytes.NewReader(line))
	if begin, err := d.Token(); err != nil || begin != json.Delim('{') {
		return nil, errors.New("is no JSON object")
	}
	row := map[string]json.RawMessage{}
	for d.More() {
		name, err := d.Token()
		if err != nil {
			return nil, err
		}
		var value json.RawMessage
		if err := d.Decode(&value); err != nil {
			return nil, err
		}
		if _, twice := row[name.(string)]; twice {
			return nil, fmt.Errorf("%s stands there twice", form.Clip(name.(string)))
		}
		row[name.(string)] = value
	}
	if _, err := d.Token(); err != nil {
		return nil, err
	}
	if d.More() {
		return nil, errors.New("holds more than one object")
	}
	return row, nil
}

// account notes whom the file brings. Who has an account here keeps it as it is; an account
// of the same id under another address, or of the same address under another id, is somebody
// else's.
func (t *taking) account(row map[string]json.RawMessage) (keep bool, err error) {
	id, email := text(row["id"]), text(row["email"])
	if _, twice := t.brought[id]; twice {
		return false, errors.New("brings an account twice")
	}
	here, err := find[Account](t.db.Select("id, email").Where("id::text = ? or email = ?", id, email))
	if err != nil {
		return false, plain(err)
	}
	for _, a := range here {
		if a.ID != id || a.Email != email {
			return false,
				errors.New("somebody of the school signs in by an address that belongs to another person here")
		}
	}
	t.brought[id] = len(here) > 0
	return len(here) == 0, nil
}

// movedDepth is how deep a row nests at most: a document in its column.
const movedDepth = form.MaxDepth + 8

// movedRow says in words why rows up to a line could not be put in.
func movedRow(table string, line int64, err error) error {
	switch err = plain(err); {
	case errors.Is(err, context.Canceled) || errors.Is(err, context.DeadlineExceeded):
		return err
	case table == "schools":
		return moved("the school is in this database already")
	}
	return moved("%s.jsonl, up to line %d: %v", table, line, err)
}

// rowBatch inserts rows some at a time.
type rowBatch struct {
	db     *gorm.DB
	insert string
	rows   bytes.Buffer
}

func (b *rowBatch) add(line []byte) error {
	if b.rows.Len() == 0 {
		b.rows.WriteByte('[')
	} else {
		b.rows.WriteByte(',')
	}
	b.rows.Write(line)
	if b.rows.Len() < maxMovedBatch {
		return nil
	}
	return b.flush()
}

func (b *rowBatch) flush() error {
	if b.rows.Len() == 0 {
		return nil
	}
	b.rows.WriteByte(']')
	err := b.db.Exec(b.insert, b.rows.String()).Error
	b.rows.Reset()
	return err
}

// readLine is one line without its end, of at most maxMovedLine bytes.
func readLine(r *bufio.Reader) ([]byte, error) {
	var line []byte
	for {
		part, err := r.ReadSlice('\n')
		line = append(line, part...)
		switch {
		case len(line) > maxMovedLine:
			return nil, fmt.Errorf("is longer than %d bytes", maxMovedLine)
		case err == nil:
			return line[:len(line)-1], nil
		case errors.Is(err, bufio.ErrBufferFull):
		case errors.Is(err, io.EOF) && len(line) > 0:
			return nil, errors.New("is cut short")
		default:
			return nil, err
		}
	}
}
