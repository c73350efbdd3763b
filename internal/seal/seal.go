// Package seal holds digests of what acts of the audit trail made, and tells what was changed behind its back.
package seal

import (
	"context"
	"crypto/sha256"
	"database/sql"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"hash"
	"maps"
	"slices"
	"strings"

	"github.com/jmoiron/sqlx"

	"turret/internal/app/kept"
)

// Queryer is what tables are read with.
type Queryer interface {
	QueryContext(ctx context.Context, query string, args ...any) (*sql.Rows, error)
	GetContext(ctx context.Context, dest any, query string, args ...any) error
}

// sealed are the tables whose rows the audit trail holds digests of, by their key. Rows are only added; the columns named are set by later
// acts and have a digest of their own. What loads brought is pinned by closed periods instead, and what is in neither stands in uncovered.
var sealed = []sealedTable{
	{table: "loads", key: "id", later: []string{"withdrawn_at", "withdrawn_by", "reason"}},
	{table: "revisions", key: "id"}, {table: "projects", key: "id"}, {table: "nodes", key: "id"}, {table: "cost_codes", key: "id"},
	{table: "periods", key: "serial", later: []string{"ended_after", "reopened_at", "reopened_by", "reason"}},
	{table: "waivers", key: "id", later: []string{"ended_at", "ended_by"}},
	{table: "overrides", key: "id", later: []string{"ended_at", "ended_by"}},
	{table: "acceptances", key: "id", later: []string{"ended_at", "ended_by"}},
	{table: "commentaries", key: "id"}, {table: "agreements", key: "id"}, {table: "baselines", key: "id"},
	{table: "money_names", key: "id"}, {table: "snapshots", key: "id"},
	{table: "rehearsals", key: "id", later: []string{"ended_at"}},
	{table: "remarks", key: "id", later: []string{"answered_at", "answered_by"}},
	{table: "reviews", key: "id"}, {table: "refusals", key: "id"}, {table: "marks", key: "id"},
	{table: "notices", key: "id", later: []string{"ended_at"}},
	{table: "mailings", key: "id", left: []string{"report"}, later: []string{"ended_at"}},
	{table: "accounts", key: "id", later: []string{"login", "name", "email", "role", "scopes", "hide_money", "active", "password",
		"version"}},
	{table: "tokens", key: "id", later: []string{"ended_at"}},
}

type sealedTable struct {
	table, key  string
	later, left []string // set by later acts; not covered
}

// steadySettings are the settings that a digest is kept of; the others count what happens.
var steadySettings = []string{"reporting_currency", "settings", "settings_version"}

// words is why the index of lessons is not covered.
const words = "finds lessons, which are shown as they stand in their own table"

// uncovered are tables and columns that no digest covers, with the reason.
var uncovered = map[string]string{
	"rows not pinned":      "what a load brought counts from the closing that pins it; the load itself is covered from the start",
	"goose_db_version":     "the version of the schema, kept by the library that changes it",
	"audit":                "its entries are a chain of digests themselves",
	"ledger_sums":          "postings added up by month, held against the postings themselves",
	"stirs":                "which projects to compute again; taken out, more of them are",
	"saved_views":          "the shape of tables and reports, no figure",
	"people_asked":         "who is asked for: what is agreed is a load of assignments with its reason",
	"week_parts":           "what people write into their week sheets: what is approved is a load, and the approval stands in the trail",
	"desks":                "when people looked at their desk last, to tell them what changed",
	"meanings":             "what a sender's heads and values mean, used for files to come; what was read by them is in the loads",
	"secrets":              "what outside systems ask for to let us in; nothing shows or exports it",
	"feed_runs":            "the log of feeds, with where they go on",
	"refused_projects":     "which cells of Gather show a refusal, which is covered itself",
	"sendings":             "the log of messages sent; the outbox holds them",
	"openings":             "who opened a message",
	"mailings.report":      "follows a kept report that was saved again",
	"settings.head":        "counts changes, so that pages are computed again",
	"lesson_words":         words,
	"lesson_words_data":    words,
	"lesson_words_idx":     words,
	"lesson_words_content": words,
	"lesson_words_docsize": words,
	"lesson_words_config":  words,
	"settings.trail":       "the mark of the end of the trail, held against it",
}

// Uncovered lists the tables and columns that no digest covers, with the reason.
func Uncovered() map[string]string { return maps.Clone(uncovered) }

// made are digests of what an act added and changed. New rows are those of a table above Low up to High; Later are digests of all that
// later acts have set in a table.
type made struct {
	New   []madeRows        `json:"new,omitempty"`
	Later map[string]string `json:"later,omitempty"`
}

type madeRows struct {
	Table  string `json:"table"`
	Low    int64  `json:"low"`
	High   int64  `json:"high"`
	Digest string `json:"digest"`
}

// trailEnd marks how far the trail goes and what it has sealed.
type trailEnd struct {
	Entries int64             `json:"entries"`
	Digest  string            `json:"digest"`
	High    map[string]int64  `json:"high"`
	Later   map[string]string `json:"later"`
}

func readTrailEnd(ctx context.Context, q Queryer) (*trailEnd, error) {
	end := &trailEnd{High: map[string]int64{}, Later: map[string]string{}}
	var text string
	err := q.GetContext(ctx, &text, `SELECT value FROM settings WHERE key = 'trail'`)
	if errors.Is(err, sql.ErrNoRows) {
		return end, nil
	}
	if err != nil {
		return nil, err
	}
	return end, json.Unmarshal([]byte(text), end)
}

// Make makes the digests of what was added and changed since the last entry, and moves the mark of the end of the trail to e.
func Make(ctx context.Context, tx *sqlx.Tx, e *kept.Entry) error {
	end, err := readTrailEnd(ctx, tx)
	if err != nil {
		return err
	}
	m := made{Later: map[string]string{}}
	for i := range sealed {
		t := &sealed[i]
		var high int64
		if err := tx.GetContext(ctx, &high, `SELECT coalesce(max(`+t.key+`), 0) FROM `+t.table); err != nil {
			return err
		}
		if low := end.High[t.table]; high > low {
			d, err := t.rows(ctx, tx, low, high)
			if err != nil {
				return err
			}
			m.New = append(m.New, madeRows{t.table, low, high, d})
			end.High[t.table] = high
		}
	}
	now, err := laterDigests(ctx, tx)
	if err != nil {
		return err
	}
	for table, d := range now {
		if end.Later[table] != d {
			m.Later[table], end.Later[table] = d, d
		}
	}
	if len(m.New)+len(m.Later) > 0 {
		b, err := json.Marshal(m)
		if err != nil {
			return err
		}
		e.Made = string(b)
	}
	e.Digest = e.Seal()
	end.Entries, end.Digest = e.ID, e.Digest
	b, err := json.Marshal(end)
	if err != nil {
		return err
	}
	_, err = tx.ExecContext(ctx,
		`INSERT INTO settings (key, value) VALUES ('trail', ?) ON CONFLICT (key) DO UPDATE SET value = excluded.value`,
		string(b))
	return err
}

// rows is the digest of the rows above low up to high, without the columns that later acts set.
func (t *sealedTable) rows(ctx context.Context, q Queryer, low, high int64) (string, error) {
	without := slices.Concat(t.later, t.left)
	return digestOf(ctx, q, func(column string) bool { return !slices.Contains(without, column) },
		`SELECT * FROM `+t.table+` WHERE `+t.key+` > ? AND `+t.key+` <= ? ORDER BY `+t.key, low, high)
}

// changed is the digest of what later acts have set in a table.
func (t *sealedTable) changed(ctx context.Context, q Queryer) (string, error) {
	var set []string
	for _, c := range t.later {
		set = append(set, `coalesce(CAST(`+c+` AS TEXT), '') NOT IN ('', '0')`)
	}
	return digestOf(ctx, q, func(string) bool { return true }, `SELECT `+t.key+`, `+strings.Join(t.later, ", ")+` FROM `+t.table+
		` WHERE `+strings.Join(set, " OR ")+` ORDER BY `+t.key)
}

func laterDigests(ctx context.Context, q Queryer) (map[string]string, error) {
	list := map[string]string{}
	var err error
	for i := range sealed {
		if t := &sealed[i]; len(t.later) > 0 {
			if list[t.table], err = t.changed(ctx, q); err != nil {
				return nil, err
			}
		}
	}
	list["settings"], err = digestOf(ctx, q, func(string) bool { return true }, `SELECT key, value FROM settings WHERE key IN ('`+
		strings.Join(steadySettings, "', '")+`') ORDER BY key`)
	return list, err
}

// digestOf is the SHA-256 over the columns kept of the rows of a query, empty where there is no row.
func digestOf(ctx context.Context, q Queryer, keep func(column string) bool, query string, args ...any) (string, error) {
	rows, err := q.QueryContext(ctx, query, args...)
	if err != nil {
		return "", err
	}
	defer rows.Close()
	names, err := rows.Columns()
	if err != nil {
		return "", err
	}
	cells := make([]sql.RawBytes, len(names))
	into := make([]any, len(names))
	for i := range cells {
		into[i] = &cells[i]
	}
	h, n := sha256.New(), 0
	for ; rows.Next(); n++ {
		if err := rows.Scan(into...); err != nil {
			return "", err
		}
		for i, cell := range cells {
			if keep(names[i]) {
				Cell(h, names[i], cell)
			}
		}
		h.Write([]byte{'\n'})
	}
	if n == 0 {
		return "", rows.Err()
	}
	return hex.EncodeToString(h.Sum(nil)), rows.Err()
}

// Cell adds a cell of a column to a digest. One that is empty or nought is left out, so that a column which a later version
// adds changes nothing.
func Cell(h hash.Hash, name string, cell []byte) {
	if len(cell) > 0 && string(cell) != "0" {
		fmt.Fprintf(h, "%s=%d:%s;", name, len(cell), cell)
	}
}

// Held tells what is not as the entries of the trail made it, oldest first: rows changed, taken out or put in, and changes that no act
// made. Texts are what each entry says it made, digest that of the last.
func Held(ctx context.Context, q Queryer, texts []string, digest string) (wrong []string, err error) {
	end, err := readTrailEnd(ctx, q)
	if err != nil || len(end.High) == 0 && (len(texts) == 0 || texts[len(texts)-1] == "") {
		return nil, err // a file of an earlier version, in which nothing was done since
	}
	if end.Entries != int64(len(texts)) || end.Digest != digest {
		wrong = append(wrong, fmt.Sprintf("the audit trail has %d entries and had %d: its end was taken out or changed", len(texts),
			end.Entries))
	}
	found, err := unsealed(ctx, q, texts)
	return append(wrong, found...), err
}

func unsealed(ctx context.Context, q Queryer, texts []string) (wrong []string, err error) {
	high, later := map[string]int64{}, map[string]string{}
	for _, text := range texts {
		var m made
		if text == "" {
			continue
		}
		if err := json.Unmarshal([]byte(text), &m); err != nil {
			wrong = append(wrong, "what an entry of the trail says it made cannot be read: "+err.Error())
			continue
		}
		for table, d := range m.Later {
			later[table] = d
		}
		for _, x := range m.New {
			at := slices.IndexFunc(sealed, func(t sealedTable) bool { return t.table == x.Table })
			if at < 0 {
				continue // of a later version
			}
			high[x.Table] = x.High
			d, err := sealed[at].rows(ctx, q, x.Low, x.High)
			if err != nil {
				return wrong, err
			}
			if d != x.Digest {
				wrong = append(wrong, sealed[at].says(x.Low, x.High)+" changed, taken out or put in by hand")
			}
		}
	}
	for i := range sealed {
		t := &sealed[i]
		var top int64
		if err := q.GetContext(ctx, &top, `SELECT coalesce(max(`+t.key+`), 0) FROM `+t.table); err != nil {
			return wrong, err
		}
		if top > high[t.table] {
			wrong = append(wrong, t.says(high[t.table], top)+" put in by hand: no entry of the trail made it")
		}
	}
	now, err := laterDigests(ctx, q)
	for _, table := range slices.Sorted(maps.Keys(now)) {
		if now[table] != later[table] {
			wrong = append(wrong, table+": what was changed there last was changed by hand, by no entry of the trail")
		}
	}
	return wrong, err
}

// says names rows of the table.
func (t *sealedTable) says(low, high int64) string {
	if high == low+1 {
		return fmt.Sprintf("%s %d was", t.table, high)
	}
	return fmt.Sprintf("%s %d to %d: one of them was", t.table, low+1, high)
}
