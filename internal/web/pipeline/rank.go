package pipeline

import (
	"errors"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/edit"
	"turret/internal/app/fault"
	"turret/internal/app/pipeline"
	"turret/internal/core/fact"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

// rankView ranks what is proposed, criterion by criterion.
type rankView struct {
	page.SectionFrame
	Model   string
	Heads   []criterionHead
	Rows    []rankRow
	May     bool
	Action  string
	Problem string
	Note    string
	Empty   string
	Was     page.Was
}

type criterionHead struct{ Code, Name, Title, Weight string }

type rankRow struct {
	Code, Name, Href, Status string
	Rank, Score, Spread      string
	Rated, RatedTone         string
	Unsteady                 bool
	Bar                      int // width of the score, of 100
	Cells                    []rankCell
}

type rankCell struct {
	Field, Text, Title string
	Size               int
	Measured           bool
	Label              string
}

// mostRated is up to how many projects ratings are typed beside each other.
const mostRated = 200

func (s *pages) ranking(c fiber.Ctx) error { return s.showRanking(c, nil) }

func (s *pages) showRanking(c fiber.Ctx, refused error) error {
	r, scope, p, err := s.read(c)
	if err != nil {
		return err
	}
	v := rankView{SectionFrame: frame(r, "Ranking"), Action: r.Here(), May: mayJudge(r),
		Empty: "No criteria are known. They come with the file criteria: a model, its criteria, and what each weighs."}
	m, err := modelOf(r, p)
	if err != nil {
		return err
	}
	if m == nil {
		v.Headline = []page.Spoken{{Text: "Nothing is weighed yet."}}
		return r.Answer("pipeline-ranking", &v.Page, &v)
	}
	v.Model = m.Code
	v.Filters = models(p, m)
	v.Carry(r)
	for k := range m.Criteria {
		v.Heads = append(v.Heads, headOf(&m.Criteria[k]))
	}
	ranking, err := pipeline.RankOf(c.Context(), r.Figures, p, scope, m.Code)
	if err != nil {
		return err
	}
	var typed map[string]string
	if refused != nil {
		if _, typed, err = typedRatings(c, ranking); err != nil {
			return err
		}
	}
	v.Was = shownRatings(ranking)
	rows := ranking.Rows
	v.Headline = []page.Spoken{{Text: rankHeadline(ranking)}}
	for i := range rows[:min(len(rows), mostRated)] {
		v.Rows = append(v.Rows, rowOf(r, ranking, &rows[i], typed))
	}
	v.Note = "A rank stands between two where each weight is a fifth less or more than it is, in all " +
		write.Count(ranking.Corners, "combination", "combinations") + "."
	if ranking.Sampled {
		v.Note = "A rank stands between two where each weight is a fifth less or more than it is, in " +
			write.Count(ranking.Corners, "combination", "combinations") + " drawn by lot, since the model has too many criteria to try all."
	}
	if len(rows) > mostRated {
		v.Note += " The first " + strconv.Itoa(mostRated) + " of " + write.Whole(len(rows)) + " are shown; a scope shows the others."
	}
	if r.Figures.NoMoney && slices.ContainsFunc(m.Criteria, func(q pipeline.Criterion) bool { return measure.Of(q.Measure).IsCost() }) {
		v.Note += " What costs rate is not shown to you, so scores and ranks are without it."
	}
	v.Empty = "Nothing is proposed here, and nothing else is rated in this model."
	if refused != nil {
		c.Status(fiber.StatusUnprocessableEntity)
		v.Problem = page.RefusedText(refused)
		if errors.Is(refused, fault.ErrConflict) {
			v.Problem += " Save again to put yours in their place."
		}
	}
	return r.Answer("pipeline-ranking", &v.Page, &v)
}

// ratingField is the field of a rating in the form.
func ratingField(x *pipeline.Ranked, q *pipeline.Criterion) string {
	return "r." + x.Code + "." + q.Code
}

// shownRatings are the ratings that somebody gave, as the form shows them, by its fields; what a measure rates is none of somebody's.
func shownRatings(ranking *pipeline.Ranking) page.Was {
	shown := page.Was{}
	for i := range ranking.Rows {
		x := &ranking.Rows[i]
		for k := range ranking.Model.Criteria {
			text := ""
			if x.Typed[k] {
				text = ratingText(x.Ratings[k])
			}
			shown[ratingField(x, &ranking.Model.Criteria[k])] = text
		}
	}
	return shown
}

// typedRatings are the ratings that a form sends, with what it was made from; those that were not touched are left out.
func typedRatings(c fiber.Ctx, ranking *pipeline.Ranking) (was page.Was, typed map[string]string, err error) {
	q, err := url.ParseQuery(string(c.Body()))
	if err != nil {
		return nil, nil, fiber.NewError(fiber.StatusBadRequest, "The form cannot be read.")
	}
	if was, err = page.WasOf(q); err != nil {
		return nil, nil, err
	}
	all := map[string]string{}
	for field := range shownRatings(ranking) {
		if q.Has(field) {
			all[field] = strings.TrimSpace(q.Get(field))
		}
	}
	return was, was.Typed(all), nil
}

// ratingsToSet are the ratings that a form changes, by project and criterion. One that somebody else changed meanwhile is an *edit.Error
// that names it as people read it.
func ratingsToSet(c fiber.Ctx, ranking *pipeline.Ranking) (map[string]map[string]string, error) {
	was, typed, err := typedRatings(c, ranking)
	if err != nil {
		return nil, err
	}
	shown := shownRatings(ranking)
	set, err := edit.Meanwhile(was, shown, typed)
	by, named := map[string]map[string]string{}, map[string]string{}
	for i := range ranking.Rows {
		x := &ranking.Rows[i]
		for k := range ranking.Model.Criteria {
			q := &ranking.Model.Criteria[k]
			field := ratingField(x, q)
			named[field] = q.Name + " of " + x.Code
			if value, ok := set[field]; ok && value != shown[field] {
				if by[x.Code] == nil {
					by[x.Code] = map[string]string{}
				}
				by[x.Code][q.Code] = value
			}
		}
	}
	var clash *edit.Error
	if errors.As(err, &clash) {
		for i := range clash.Clashes {
			clash.Clashes[i].Column = named[clash.Clashes[i].Column]
		}
	}
	return by, err
}

func headOf(c *pipeline.Criterion) criterionHead {
	h := criterionHead{Code: c.Code, Name: c.Name, Weight: money.Plain(c.Weight, 4)}
	h.Title = money.Plain(c.Low, 4) + " to " + money.Plain(c.High, 4)
	if c.Effort {
		h.Title += ", less is better"
	}
	if c.Measure != measure.None {
		h.Title += "; rated by " + c.Measure.String() + " where nobody did"
	}
	if c.Anchors != "" {
		h.Title += ". " + c.Anchors
	}
	return h
}

func rowOf(r *page.Request, ranking *pipeline.Ranking, x *pipeline.Ranked, typed map[string]string) rankRow {
	row := rankRow{Code: x.Code, Name: x.Project.Name, Href: r.To(page.ProjectPath(x.Code) + "/proposal"), Spread: spread(x)}
	if x.Project.Status != measure.Proposed {
		row.Status, row.Href = x.Project.Status.String(), r.Project(x.Code)
	}
	if x.Scored {
		row.Rank, row.Score, row.Bar, row.Unsteady = strconv.Itoa(x.Rank), pipeline.Points(x.Score), int(x.Score/1_000_000), x.Low != x.High
	}
	if x.Scored {
		row.Rated, row.RatedTone = rated(x)
	}
	for k := range ranking.Model.Criteria {
		q := &ranking.Model.Criteria[k]
		cell := rankCell{Field: ratingField(x, q), Label: q.Name + " of " + x.Code, Text: ratingText(x.Ratings[k]), Size: 4}
		if q.Measure != measure.None {
			cell.Size = 9
		}
		if !x.Typed[k] && x.Ratings[k].Given() {
			cell.Measured, cell.Text = true, ratingHuman(x.Ratings[k])
			cell.Title = cell.Text + " by " + q.Measure.String()
		}
		if value, ok := typed[cell.Field]; ok {
			cell.Text, cell.Measured = value, false
		}
		row.Cells = append(row.Cells, cell)
	}
	return row
}

func ratingText(n fact.Ratio) string {
	if !n.Given() {
		return ""
	}
	return money.Plain(int64(money.MulDiv(money.Amount(n.Num), 100, n.Den)), 2)
}

// ratingHuman is a rating for reading.
func ratingHuman(n fact.Ratio) string {
	if !n.Given() {
		return ""
	}
	return write.Trimmed(int64(money.MulDiv(money.Amount(n.Num), 100, n.Den)), 2)
}

func numbered(n int) string { return strconv.Itoa(n) }

// rankHeadline says what stands first, and how sure that is.
func rankHeadline(x *pipeline.Ranking) string {
	if len(x.Rows) == 0 {
		return "Nothing is proposed here."
	}
	first, loose, unrated := &x.Rows[0], 0, 0
	for i := range x.Rows {
		switch row := &x.Rows[i]; {
		case !row.Scored:
			unrated++
		case row.Low != row.High:
			loose++
		}
	}
	if !first.Scored {
		return "None of " + write.Count(len(x.Rows), "proposal", "proposals") + " is rated in " + x.Model.Code + "."
	}
	text := first.Project.Name + " stands first with " + pipeline.Points(first.Score) + " of 100"
	if n, all := first.Rated(), len(first.Ratings); n < all {
		text += ", rated by " + strconv.Itoa(n) + " of " + write.Count(all, "criterion", "criteria")
	}
	if first.High > 1 {
		text += ", and would be " + ordinal(first.High) + " under other weights"
	}
	switch loose {
	case 0:
		text += "; no rank depends on the weights."
	case 1:
		text += "; one rank depends on the weights."
	default:
		text += "; " + write.Whole(loose) + " ranks depend on the weights."
	}
	if unrated > 0 {
		text += " " + write.Count(unrated, "is", "are") + " not rated."
	}
	return text
}

// ordinal is a rank as it is said.
func ordinal(n int) string {
	end := "th"
	switch {
	case n%100/10 == 1:
	case n%10 == 1:
		end = "st"
	case n%10 == 2:
		end = "nd"
	case n%10 == 3:
		end = "rd"
	}
	return strconv.Itoa(n) + end
}

// rate takes the ratings that were typed beside each other. What was not touched stays: a rating by a measure is none of somebody's.
func (s *pages) rate(c fiber.Ctx) error {
	r, scope, p, err := s.read(c)
	if err != nil {
		return err
	}
	m, err := modelOf(r, p)
	if err != nil || m == nil {
		return page.Go(c, "/pipeline/ranking")
	}
	ranking, err := pipeline.RankOf(c.Context(), r.Figures, p, scope, m.Code)
	if err != nil {
		return err
	}
	by, err := ratingsToSet(c, ranking)
	if err == nil {
		_, err = s.Office.Pipeline.Rate(c.Context(), m.Code, by, strings.TrimSpace(strings.Clone(c.FormValue("reason"))))
	}
	if err == nil {
		told := "No rating was changed."
		if n := len(by); n > 0 {
			told = "Ratings of " + write.Count(n, "project", "projects") + " were saved" + r.InPeriod() + page.Withdrawable(c) + "."
		}
		page.Tell(c, told)
	}
	return page.Answered(c, err, "/pipeline/ranking?model="+url.QueryEscape(m.Code), func(refused error) error {
		return s.showRanking(c,
			refused)
	})
}
