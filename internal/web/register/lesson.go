package register

import (
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/register"
	"turret/internal/core/write"
	"turret/internal/record"
	"turret/internal/web/page"
)

// lessonsView is what was learned, to be searched.
type lessonsView struct {
	*view
	Lessons []lessonRow
}

type lessonRow struct {
	Title, Href, Text, Category, By, On string
	Project, ProjectHref, Shared        string
}

func (s *pages) lessons(c fiber.Ctx) error { return s.showLessons(c, nil, nil) }

func (s *pages) showLessons(c fiber.Ctx, refused error, typed map[string]string) error {
	r, scope, base, err := s.frame(c, record.Lessons)
	if err != nil {
		return err
	}
	v := lessonsView{view: base}
	v.Query = r.Asked.Get("q")
	found, err := s.Office.Register.Search(c.Context(), r.Figures, scope, v.Query)
	if err != nil {
		return err
	}
	category := r.Asked.Get("category")
	var categories []string
	seen := map[string]bool{}
	for i := range found {
		if k := found[i].Category; k != "" && !seen[k] {
			seen[k] = true
			categories = append(categories, k)
		}
		if category == "" || found[i].Category == category {
			v.Lessons = append(v.Lessons, lessonOf(r, &found[i]))
		}
	}
	if category != "" && !seen[category] {
		categories = append(categories, category)
	}
	v.Filters = []page.Picker{page.Choices("Grouping", "category", category, categories, "all")}
	v.Filtered = v.Query != "" || category != ""
	v.Clear = r.Here("q", "", "category", "", "record", "")
	v.Carry(r)
	text := write.Count(len(v.Lessons), "lesson", "lessons")
	if v.Query != "" {
		text += " with these words, the best match first"
	}
	v.Headline = []page.Spoken{{Text: text + "."}}
	v.Empty = emptyOf(record.Lessons, 0)
	if v.Filtered {
		v.Empty = emptyOf(record.Lessons, 1)
	}
	if len(v.Lessons) > mostShown {
		v.More = write.Whole(len(v.Lessons)-mostShown) + " more are not shown: search for words."
		v.Lessons = v.Lessons[:mostShown]
	}
	if err := v.finish(s, r, scope, refused, typed); err != nil {
		return err
	}
	return r.Answer("register-lessons", &v.Page, &v)
}

func lessonOf(r *page.Request, l *register.Learned) lessonRow {
	x := lessonRow{Title: l.Title, Text: l.Text, Category: l.Category, By: l.By, Project: l.Project.Code + " " + l.Project.Name,
		ProjectHref: r.Project(l.Project.Code), Href: r.To(kindPath(record.Lessons), "record", l.Project.Code+":"+l.Code)}
	if l.Raised != 0 {
		x.On = l.Raised.Human()
	}
	if len(l.Shared) > 0 {
		x.Shared = "shares " + strings.Join(l.Shared, ", ")
	}
	return x
}

// alike suggests lessons that resemble a risk or an issue.
func (x *recordView) alike(s *pages, r *page.Request, text string) error {
	found, err := s.Office.Register.Like(r.Context(), r.Figures, text)
	for i := range found {
		x.Alike = append(x.Alike, lessonOf(r, &found[i]))
	}
	return err
}
