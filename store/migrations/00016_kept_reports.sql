-- +goose Up

-- Reports that take long to work out: each as it was made, and what it rests on. They are
-- made anew after something is signed, and can be deleted at any time.
create table kept_reports (
  school_id uuid not null references schools,
  name text not null,
  stamp text not null,
  made_at timestamptz not null,
  body json not null,
  primary key (school_id, name)
);
alter table kept_reports enable row level security;
create policy of_school on kept_reports using (school_id = nullif(current_setting('app.school', true), '')::uuid);
grant select, insert, update, delete on kept_reports to jetprimer_app;
