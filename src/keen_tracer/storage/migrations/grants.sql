-- Run after every migration: what the application's role may do. No DDL; append-only tables take INSERT only.
revoke all on all tables in schema public from keen_app;
grant usage on schema public to keen_app;
grant select on all tables in schema public to keen_app;
grant usage on all sequences in schema public to keen_app;
grant insert on log, event, sample, draw, report, reading, limits_version, limit_row, verdict, decision, source,
    taken_back, oil_batch, bottle_step, reference_bottle, parked, label_run, attachment, photo, answer, record_change, peers_version,
    look, look_count, picture_line, damage_link, outcome, engine_case, case_entry, work_item, task_move, depot_hours, weights_version, weight_row,
    peer_row, policy, raised_stop, report_layout, average to keen_app;
grant insert, update on depot, person, model, engine, coolant, setting, milestone, lab_order, calendar_feed, api_key, arrived to keen_app;
grant insert, update, delete on judging_queue, unjudged, undrawn, wall, waiting_sample, session, idempotency, plan, query, person_choice, before_rules to keen_app;
grant select on sequence change_mark to keen_app;
