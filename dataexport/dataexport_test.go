package dataexport_test

import (
	"context"
	"encoding/csv"
	"encoding/json"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/dataexport"
	"jetprimer/demo"
	"jetprimer/demo/schooltest"
	"jetprimer/store"
)

func TestMain(m *testing.M) { schooltest.Main(m) }

// described is what a reader of the standard needs of datapackage.json.
type described struct {
	Title     string
	Resources []struct {
		Name, Path, Description string
		Rows                    int `json:"jetprimer:rows"`
		Schema                  struct {
			Fields      []struct{ Name, Type string }
			PrimaryKey  []string
			ForeignKeys []struct {
				Fields    []string
				Reference struct {
					Resource string
					Fields   []string
				}
			}
		}
	}
}

// valid says whether a cell is a value of a type of Table Schema.
func valid(kind, cell string) bool {
	var err error
	switch kind {
	case "string":
	case "integer":
		_, err = strconv.Atoi(cell)
	case "number":
		_, err = strconv.ParseFloat(cell, 64)
	case "boolean":
		return cell == "true" || cell == "false"
	case "date":
		_, err = time.Parse(time.DateOnly, cell)
	case "datetime":
		_, err = time.Parse("2006-01-02T15:04:05Z", cell)
	case "list":
		err = json.Unmarshal([]byte(cell), new([]any))
	case "object":
		err = json.Unmarshal([]byte(cell), new(map[string]any))
	default:
		return false
	}
	return err == nil
}

// TestTheFolderHoldsTheSchool reads the folder by its description alone: every table has
// the rows of the database, every cell is of its column's type, keys are unique, and what
// refers to another table is found there.
func TestTheFolderHoldsTheSchool(t *testing.T) {
	ctx := context.Background()
	d := schooltest.Demo(t, "x")
	folder := filepath.Join(t.TempDir(), "a school")
	rows := map[string]int{}
	require.NoError(t,
		dataexport.Write(ctx, d.Store, demo.SchoolID, folder, "test", func(table string, n int) { rows[table] = n }))
	owner, err := pgx.Connect(ctx, d.OwnerURL)
	require.NoError(t, err)
	defer owner.Close(ctx)
	for table, of := range map[string]string{"people": "memberships", "students": "students", "aircraft": "aircraft",
		"lessons": "lessons", "items": "item_results",
		"readings": "readings", "findings": "findings", "observations": "observations", "standings": "standings",
		"stage_checks": "stage_checks", "bookings": "bookings"} {
		var n int
		require.NoError(t, owner.QueryRow(ctx, "select count(*) from "+of).Scan(&n))
		assert.Equal(t, n, rows[table], table)
		assert.NotZero(t, n, table)
	}
	assert.Greater(t, rows["reading_values"], rows["readings"])

	var about described
	text, err := os.ReadFile(filepath.Join(folder, dataexport.Description))
	require.NoError(t, err)
	require.NoError(t, json.Unmarshal(text, &about))
	assert.Equal(t, demo.SchoolName, about.Title)
	require.Len(t, about.Resources, len(rows))
	keys := map[string]map[string]bool{} // "table column" → its values
	drops := 0
	for _, r := range about.Resources {
		f, err := os.Open(filepath.Join(folder, r.Path))
		require.NoError(t, err)
		table, err := csv.NewReader(f).ReadAll()
		require.NoError(t, err)
		require.NoError(t, f.Close())
		assert.NotEmpty(t, r.Description, r.Name)
		assert.Len(t, table, 1+r.Rows, r.Name)
		at, whole := map[string]int{}, map[string]bool{}
		for i, c := range r.Schema.Fields {
			require.Equal(t, c.Name, table[0][i], r.Name)
			at[c.Name] = i
			values := map[string]bool{}
			for _, row := range table[1:] {
				if row[i] != "" && !valid(c.Type, row[i]) {
					t.Fatalf("%s.%s is no %s: %q", r.Name, c.Name, c.Type, row[i])
				}
				values[row[i]] = true
			}
			keys[r.Name+" "+c.Name] = values
		}
		for _, key := range r.Schema.ForeignKeys {
			known := keys[key.Reference.Resource+" "+key.Reference.Fields[0]]
			require.NotNil(t, known, "%s refers to a table that stands before it", r.Name)
			for value := range keys[r.Name+" "+key.Fields[0]] {
				assert.True(t, value == "" || known[value], "%s.%s %q", r.Name, key.Fields[0], value)
			}
		}
		for _, row := range table[1:] {
			var key []string
			for _, c := range r.Schema.PrimaryKey {
				key = append(key, row[at[c]])
			}
			one := strings.Join(key, " ")
			assert.False(t, len(key) > 0 && whole[one], "%s has two rows %q", r.Name, one)
			whole[one] = true
			if r.Name == "reading-values" && row[at["name"]] == "rightDrop" && row[at["source"]] == "computed" {
				drops++
			}
		}
	}
	assert.Greater(t, drops, 5, "right drops, which somebody would draw over the days")
}

// TestNothingIsWrittenOver: a folder that exists stays as it is, and one that was not
// completed is removed.
func TestNothingIsWrittenOver(t *testing.T) {
	ctx := context.Background()
	d := schooltest.Demo(t, "x")
	there := t.TempDir()
	ignore := func(string, int) {}
	assert.ErrorIs(t, dataexport.Write(ctx, d.Store, demo.SchoolID, there, "test", ignore), os.ErrExist)
	assert.DirExists(t, there)
	folder := filepath.Join(t.TempDir(), "folder")
	cancelled, cancel := context.WithCancel(ctx)
	assert.Error(t, dataexport.Write(cancelled, d.Store, demo.SchoolID, folder, "test", func(string, int) { cancel() }))
	assert.NoDirExists(t, folder)
	assert.ErrorIs(t, dataexport.Write(ctx, d.Store, "018f0000-0000-7000-8000-00000000ffff", folder, "test", ignore),
		store.ErrNotFound)
	assert.NoDirExists(t, folder)
}
