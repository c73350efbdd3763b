package store

import (
	"context"
	"strings"

	"turret/internal/core/risk"
	"turret/internal/record"
)

// FindLessons passes the current lessons that hold any of the words, or each of them where all is set, the best match first. Without words
// it passes all of them, those raised last first.
func (r reading) FindLessons(ctx context.Context, words []string, all bool, row func(int64, risk.Lesson)) error {
	const columns = `SELECT c.project_id, v.load_id, t.row, t.code, t.title, t.text, t.category, t.raised_by, t.raised`
	q, args := columns+fromCurrent("lessons")+` ORDER BY t.raised DESC, c.project_id, t.code`, []any{record.Lessons}
	if len(words) > 0 {
		quoted := make([]string, len(words)) // as strings, so that none is an operator
		for i, w := range words {
			quoted[i] = `"` + strings.ReplaceAll(w, `"`, `""`) + `"`
		}
		with := " OR "
		if all {
			with = " AND "
		}
		q = columns + fromCurrent("lessons") + ` JOIN (SELECT revision, row, rank FROM lesson_words WHERE lesson_words MATCH ?) f
			ON f.revision = t.revision_id AND f.row = t.row ORDER BY f.rank, c.project_id, t.code`
		args = append(args, strings.Join(quoted, with))
	}
	rows, err := r.q.QueryContext(ctx, q, args...)
	var project int64
	return each(rows, err, func(scan scanner) error {
		var x risk.Lesson
		err := scan(&project, &x.Ref.Load, &x.Ref.Row, &x.Code, &x.Title, &x.Text, &x.Category, &x.By, &x.Raised)
		row(project, x)
		return err
	})
}
