-- The tables as all migrations leave them, for a database that is empty: Django's migrate loads it
-- there. Written by `python -m launch.tables`; do not edit.

CREATE EXTENSION IF NOT EXISTS pg_trgm WITH SCHEMA public;

COMMENT ON EXTENSION pg_trgm IS 'text similarity measurement and index searching based on trigrams';

CREATE TYPE public.procrastinate_job_event_type AS ENUM (
    'deferred',
    'started',
    'deferred_for_retry',
    'failed',
    'succeeded',
    'cancelled',
    'abort_requested',
    'aborted',
    'scheduled',
    'retried'
);

CREATE TYPE public.procrastinate_job_status AS ENUM (
    'todo',
    'doing',
    'succeeded',
    'failed',
    'cancelled',
    'aborting',
    'aborted'
);

CREATE TYPE public.procrastinate_job_to_defer_v1 AS (
	queue_name character varying,
	task_name character varying,
	priority integer,
	lock text,
	queueing_lock text,
	args jsonb,
	scheduled_at timestamp with time zone
);

CREATE FUNCTION public.announce() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
BEGIN
    PERFORM pg_notify('changed', one || ' ' || TG_ARGV[0])
    FROM (SELECT DISTINCT workspace_id::text AS one FROM touched) AS workspaces;
    RETURN NULL;
END $$;

CREATE FUNCTION public.announce_workspace() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
BEGIN
    PERFORM pg_notify('changed', id::text || ' ' || TG_ARGV[0]) FROM touched;
    RETURN NULL;
END $$;

CREATE FUNCTION public.erase_evidence(memberships uuid[]) RETURNS void
    LANGUAGE plpgsql SECURITY DEFINER
    SET search_path TO 'public', 'pg_temp'
    AS $$
BEGIN
    PERFORM set_config('yalla.evidence', 'erasing', true);
    DELETE FROM people_evidence WHERE membership_id = ANY(memberships);
    PERFORM set_config('yalla.evidence', '', true);
END $$;

CREATE FUNCTION public.guard_evidence() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
DECLARE
    moved people_evidence%ROWTYPE;
BEGIN
    IF TG_OP = 'DELETE' THEN
        IF current_setting('yalla.evidence', true) = 'erasing' THEN
            RETURN OLD;
        END IF;
    ELSIF current_setting('yalla.evidence', true) = 'merging' THEN
        moved := NEW;
        moved.membership_id := OLD.membership_id;
        IF moved IS NOT DISTINCT FROM OLD THEN
            RETURN NEW;
        END IF;
    END IF;
    RAISE EXCEPTION 'evidence is never changed or removed'
        USING ERRCODE = 'integrity_constraint_violation';
END $$;

CREATE FUNCTION public.guard_send_life() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
BEGIN
    IF (OLD.state || '>' || NEW.state) NOT IN (
        'queued>handing_over', 'queued>held', 'queued>withdrawn',
        'handing_over>sent', 'handing_over>queued', 'handing_over>withdrawn',
        'handing_over>held', 'handing_over>refused', 'handing_over>unknown',
        'unknown>sent', 'unknown>queued',
        'held>queued', 'held>withdrawn',
        'refused>queued',
        'withdrawn>queued'
    ) THEN
        RAISE EXCEPTION 'an email that is % cannot become %', OLD.state, NEW.state
            USING ERRCODE = 'check_violation';
    END IF;
    RETURN NEW;
END $$;

CREATE FUNCTION public.make_part(whole text, part text, low uuid, high uuid) RETURNS void
    LANGUAGE plpgsql SECURITY DEFINER
    SET search_path TO 'public', 'pg_temp'
    AS $_$
BEGIN
    IF whole <> 'people_fact' OR part !~ '^people_fact_[0-9]{4}_[0-9]{2}$' THEN
        RAISE EXCEPTION 'no part of this name is made';
    END IF;
    -- Nobody writes to the rest between its rows leaving it and the part being there.
    EXECUTE format('LOCK TABLE %I IN SHARE ROW EXCLUSIVE MODE', whole);
    EXECUTE format('CREATE TEMPORARY TABLE moving ON COMMIT DROP AS '
        'SELECT * FROM %I WHERE id >= %L AND id < %L', whole || '_rest', low, high);
    EXECUTE format('DELETE FROM %I WHERE id >= %L AND id < %L', whole || '_rest', low, high);
    EXECUTE format('CREATE TABLE %I PARTITION OF %I FOR VALUES FROM (%L) TO (%L)',
        part, whole, low, high);
    EXECUTE format('INSERT INTO %I SELECT * FROM moving', whole);
    DROP TABLE moving;
END $_$;

CREATE FUNCTION public.move_evidence(rows uuid[], membership uuid) RETURNS void
    LANGUAGE plpgsql SECURITY DEFINER
    SET search_path TO 'public', 'pg_temp'
    AS $$
BEGIN
    PERFORM set_config('yalla.evidence', 'merging', true);
    UPDATE people_evidence SET membership_id = membership WHERE id = ANY(rows);
    PERFORM set_config('yalla.evidence', '', true);
END $$;

CREATE FUNCTION public.procrastinate_cancel_job_v1(job_id bigint, abort boolean, delete_job boolean) RETURNS bigint
    LANGUAGE plpgsql
    AS $$
DECLARE
    _job_id bigint;
BEGIN
    IF delete_job THEN
        DELETE FROM procrastinate_jobs
        WHERE id = job_id AND status = 'todo'
        RETURNING id INTO _job_id;
    END IF;
    IF _job_id IS NULL THEN
        IF abort THEN
            UPDATE procrastinate_jobs
            SET abort_requested = true,
                status = CASE status
                    WHEN 'todo' THEN 'cancelled'::procrastinate_job_status ELSE status
                END
            WHERE id = job_id AND status IN ('todo', 'doing')
            RETURNING id INTO _job_id;
        ELSE
            UPDATE procrastinate_jobs
            SET status = 'cancelled'::procrastinate_job_status
            WHERE id = job_id AND status = 'todo'
            RETURNING id INTO _job_id;
        END IF;
    END IF;
    RETURN _job_id;
END;
$$;

CREATE FUNCTION public.procrastinate_defer_jobs_v1(jobs public.procrastinate_job_to_defer_v1[]) RETURNS bigint[]
    LANGUAGE plpgsql
    AS $$
DECLARE
    job_ids bigint[];
BEGIN
    WITH inserted_jobs AS (
        INSERT INTO procrastinate_jobs (queue_name, task_name, priority, lock, queueing_lock, args, scheduled_at)
        SELECT (job).queue_name,
               (job).task_name,
               (job).priority,
               (job).lock,
               (job).queueing_lock,
               (job).args,
               (job).scheduled_at
        FROM unnest(jobs) AS job
        RETURNING id
    )
    SELECT array_agg(id) FROM inserted_jobs INTO job_ids;

    RETURN job_ids;
END;
$$;

CREATE FUNCTION public.procrastinate_defer_periodic_job_v2(_queue_name character varying, _lock character varying, _queueing_lock character varying, _task_name character varying, _priority integer, _periodic_id character varying, _defer_timestamp bigint, _args jsonb) RETURNS bigint
    LANGUAGE plpgsql
    AS $$
DECLARE
	_job_id bigint;
	_defer_id bigint;
BEGIN
    INSERT
        INTO procrastinate_periodic_defers (task_name, periodic_id, defer_timestamp)
        VALUES (_task_name, _periodic_id, _defer_timestamp)
        ON CONFLICT DO NOTHING
        RETURNING id into _defer_id;

    IF _defer_id IS NULL THEN
        RETURN NULL;
    END IF;

    UPDATE procrastinate_periodic_defers
        SET job_id = (
            SELECT COALESCE((
                SELECT unnest(procrastinate_defer_jobs_v1(
                    ARRAY[
                        ROW(
                            _queue_name,
                            _task_name,
                            _priority,
                            _lock,
                            _queueing_lock,
                            _args,
                            NULL::timestamptz
                        )
                    ]::procrastinate_job_to_defer_v1[]
                ))
            ), NULL)
        )
        WHERE id = _defer_id
        RETURNING job_id INTO _job_id;

    DELETE
        FROM procrastinate_periodic_defers
        USING (
            SELECT id
            FROM procrastinate_periodic_defers
            WHERE procrastinate_periodic_defers.task_name = _task_name
            AND procrastinate_periodic_defers.periodic_id = _periodic_id
            AND procrastinate_periodic_defers.defer_timestamp < _defer_timestamp
            ORDER BY id
            FOR UPDATE
        ) to_delete
        WHERE procrastinate_periodic_defers.id = to_delete.id;

    RETURN _job_id;
END;
$$;

SET default_tablespace = '';

SET default_table_access_method = heap;

CREATE TABLE public.procrastinate_jobs (
    id bigint NOT NULL,
    queue_name character varying(128) NOT NULL,
    task_name character varying(128) NOT NULL,
    lock text,
    args jsonb DEFAULT '{}'::jsonb NOT NULL,
    status public.procrastinate_job_status DEFAULT 'todo'::public.procrastinate_job_status NOT NULL,
    scheduled_at timestamp with time zone,
    attempts integer DEFAULT 0 NOT NULL,
    queueing_lock text,
    priority integer DEFAULT 0 NOT NULL,
    abort_requested boolean DEFAULT false NOT NULL,
    worker_id bigint,
    CONSTRAINT check_not_todo_abort_requested CHECK ((NOT ((status = 'todo'::public.procrastinate_job_status) AND (abort_requested = true))))
);

CREATE FUNCTION public.procrastinate_fetch_job_v2(target_queue_names character varying[], p_worker_id bigint) RETURNS public.procrastinate_jobs
    LANGUAGE plpgsql
    AS $$
DECLARE
	found_jobs procrastinate_jobs;
BEGIN
    WITH candidate AS (
        SELECT jobs.*
            FROM procrastinate_jobs AS jobs
            WHERE
                -- reject the job if its lock has earlier or higher priority jobs
                NOT EXISTS (
                    SELECT 1
                        FROM procrastinate_jobs AS other_jobs
                        WHERE
                            jobs.lock IS NOT NULL
                            AND other_jobs.lock = jobs.lock
                            AND (
                                -- job with same lock is already running
                                other_jobs.status = 'doing'
                                OR
                                -- job with same lock is waiting and has higher priority (or same priority but was queued first)
                                (
                                    other_jobs.status = 'todo'
                                    AND (
                                        other_jobs.priority > jobs.priority
                                        OR (
                                        other_jobs.priority = jobs.priority
                                        AND other_jobs.id < jobs.id
                                        )
                                    )
                                )
                            )
                )
                AND jobs.status = 'todo'
                AND (target_queue_names IS NULL OR jobs.queue_name = ANY( target_queue_names ))
                AND (jobs.scheduled_at IS NULL OR jobs.scheduled_at <= now())
            ORDER BY jobs.priority DESC, jobs.id ASC LIMIT 1
            FOR UPDATE OF jobs SKIP LOCKED
    )
    UPDATE procrastinate_jobs
        SET status = 'doing', worker_id = p_worker_id
        FROM candidate
        WHERE procrastinate_jobs.id = candidate.id
        RETURNING procrastinate_jobs.* INTO found_jobs;

 RETURN found_jobs;
END;
$$;

CREATE FUNCTION public.procrastinate_finish_job_v1(job_id bigint, end_status public.procrastinate_job_status, delete_job boolean) RETURNS void
    LANGUAGE plpgsql
    AS $$
DECLARE
    _job_id bigint;
BEGIN
    IF end_status NOT IN ('succeeded', 'failed', 'aborted') THEN
        RAISE 'End status should be either "succeeded", "failed" or "aborted" (job id: %)', job_id;
    END IF;
    IF delete_job THEN
        DELETE FROM procrastinate_jobs
        WHERE id = job_id AND status IN ('todo', 'doing')
        RETURNING id INTO _job_id;
    ELSE
        UPDATE procrastinate_jobs
        SET status = end_status,
            abort_requested = false,
            attempts = CASE status
                WHEN 'doing' THEN attempts + 1 ELSE attempts
            END
        WHERE id = job_id AND status IN ('todo', 'doing')
        RETURNING id INTO _job_id;
    END IF;
    IF _job_id IS NULL THEN
        RAISE 'Job was not found or not in "doing" or "todo" status (job id: %)', job_id;
    END IF;
END;
$$;

CREATE FUNCTION public.procrastinate_notify_queue_abort_job_v1() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
DECLARE
    payload TEXT;
BEGIN
    SELECT json_build_object('type', 'abort_job_requested', 'job_id', NEW.id)::text INTO payload;
	PERFORM pg_notify('procrastinate_queue_v1#' || NEW.queue_name, payload);
	PERFORM pg_notify('procrastinate_any_queue_v1', payload);
	RETURN NEW;
END;
$$;

CREATE FUNCTION public.procrastinate_notify_queue_job_inserted_v1() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
DECLARE
    payload TEXT;
BEGIN
    SELECT json_build_object('type', 'job_inserted', 'job_id', NEW.id)::text INTO payload;
	PERFORM pg_notify('procrastinate_queue_v1#' || NEW.queue_name, payload);
	PERFORM pg_notify('procrastinate_any_queue_v1', payload);
	RETURN NEW;
END;
$$;

CREATE FUNCTION public.procrastinate_prune_stalled_workers_v1(seconds_since_heartbeat double precision) RETURNS TABLE(worker_id bigint)
    LANGUAGE plpgsql
    AS $$
BEGIN
    RETURN QUERY
    DELETE FROM procrastinate_workers
    WHERE last_heartbeat < NOW() - (seconds_since_heartbeat || 'SECOND')::INTERVAL
    RETURNING procrastinate_workers.id;
END;
$$;

CREATE FUNCTION public.procrastinate_register_worker_v1() RETURNS TABLE(worker_id bigint)
    LANGUAGE plpgsql
    AS $$
BEGIN
    RETURN QUERY
    INSERT INTO procrastinate_workers DEFAULT VALUES
    RETURNING procrastinate_workers.id;
END;
$$;

CREATE FUNCTION public.procrastinate_retry_job_v1(job_id bigint, retry_at timestamp with time zone, new_priority integer, new_queue_name character varying, new_lock character varying) RETURNS void
    LANGUAGE plpgsql
    AS $$
DECLARE
    _job_id bigint;
    _abort_requested boolean;
BEGIN
    SELECT abort_requested FROM procrastinate_jobs
    WHERE id = job_id AND status = 'doing'
    FOR UPDATE
    INTO _abort_requested;
    IF _abort_requested THEN
        UPDATE procrastinate_jobs
        SET status = 'failed'::procrastinate_job_status
        WHERE id = job_id AND status = 'doing'
        RETURNING id INTO _job_id;
    ELSE
        UPDATE procrastinate_jobs
        SET status = 'todo'::procrastinate_job_status,
            attempts = attempts + 1,
            scheduled_at = retry_at,
            priority = COALESCE(new_priority, priority),
            queue_name = COALESCE(new_queue_name, queue_name),
            lock = COALESCE(new_lock, lock)
        WHERE id = job_id AND status = 'doing'
        RETURNING id INTO _job_id;
    END IF;

    IF _job_id IS NULL THEN
        RAISE 'Job was not found or not in "doing" status (job id: %)', job_id;
    END IF;
END;
$$;

CREATE FUNCTION public.procrastinate_retry_job_v2(job_id bigint, retry_at timestamp with time zone, new_priority integer, new_queue_name character varying, new_lock character varying) RETURNS void
    LANGUAGE plpgsql
    AS $$
DECLARE
    _job_id bigint;
    _abort_requested boolean;
    _current_status procrastinate_job_status;
BEGIN
    SELECT status, abort_requested FROM procrastinate_jobs
    WHERE id = job_id AND status IN ('doing', 'failed')
    FOR UPDATE
    INTO _current_status, _abort_requested;
    IF _current_status = 'doing' AND _abort_requested THEN
        UPDATE procrastinate_jobs
        SET status = 'failed'::procrastinate_job_status
        WHERE id = job_id AND status = 'doing'
        RETURNING id INTO _job_id;
    ELSE
        UPDATE procrastinate_jobs
        SET status = 'todo'::procrastinate_job_status,
            attempts = attempts + 1,
            scheduled_at = retry_at,
            priority = COALESCE(new_priority, priority),
            queue_name = COALESCE(new_queue_name, queue_name),
            lock = COALESCE(new_lock, lock)
        WHERE id = job_id AND status IN ('doing', 'failed')
        RETURNING id INTO _job_id;
    END IF;

    IF _job_id IS NULL THEN
        RAISE 'Job was not found or has an invalid status to retry (job id: %)', job_id;
    END IF;

END;
$$;

CREATE FUNCTION public.procrastinate_trigger_abort_requested_events_procedure_v1() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
BEGIN
    INSERT INTO procrastinate_events(job_id, type)
        VALUES (NEW.id, 'abort_requested'::procrastinate_job_event_type);
    RETURN NEW;
END;
$$;

CREATE FUNCTION public.procrastinate_trigger_function_scheduled_events_v1() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
BEGIN
    INSERT INTO procrastinate_events(job_id, type, at)
        VALUES (NEW.id, 'scheduled'::procrastinate_job_event_type, NEW.scheduled_at);

	RETURN NEW;
END;
$$;

CREATE FUNCTION public.procrastinate_trigger_function_status_events_insert_v1() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
BEGIN
    INSERT INTO procrastinate_events(job_id, type)
        VALUES (NEW.id, 'deferred'::procrastinate_job_event_type);
	RETURN NEW;
END;
$$;

CREATE FUNCTION public.procrastinate_trigger_function_status_events_update_v1() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
BEGIN
    WITH t AS (
        SELECT CASE
            WHEN OLD.status = 'todo'::procrastinate_job_status
                AND NEW.status = 'doing'::procrastinate_job_status
                THEN 'started'::procrastinate_job_event_type
            WHEN OLD.status = 'doing'::procrastinate_job_status
                AND NEW.status = 'todo'::procrastinate_job_status
                THEN 'deferred_for_retry'::procrastinate_job_event_type
            WHEN OLD.status = 'doing'::procrastinate_job_status
                AND NEW.status = 'failed'::procrastinate_job_status
                THEN 'failed'::procrastinate_job_event_type
            WHEN OLD.status = 'doing'::procrastinate_job_status
                AND NEW.status = 'succeeded'::procrastinate_job_status
                THEN 'succeeded'::procrastinate_job_event_type
            WHEN OLD.status = 'todo'::procrastinate_job_status
                AND (
                    NEW.status = 'cancelled'::procrastinate_job_status
                    OR NEW.status = 'failed'::procrastinate_job_status
                    OR NEW.status = 'succeeded'::procrastinate_job_status
                )
                THEN 'cancelled'::procrastinate_job_event_type
            WHEN OLD.status = 'doing'::procrastinate_job_status
                AND NEW.status = 'aborted'::procrastinate_job_status
                THEN 'aborted'::procrastinate_job_event_type
            WHEN OLD.status = 'failed'::procrastinate_job_status
                AND NEW.status = 'todo'::procrastinate_job_status
                THEN 'retried'::procrastinate_job_event_type
            ELSE NULL
        END as event_type
    )
    INSERT INTO procrastinate_events(job_id, type)
        SELECT NEW.id, t.event_type
        FROM t
        WHERE t.event_type IS NOT NULL;
	RETURN NEW;
END;
$$;

CREATE FUNCTION public.procrastinate_unlink_periodic_defers_v1() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
BEGIN
    UPDATE procrastinate_periodic_defers
    SET job_id = NULL
    WHERE job_id = OLD.id;
    RETURN OLD;
END;
$$;

CREATE FUNCTION public.procrastinate_unregister_worker_v1(worker_id bigint) RETURNS void
    LANGUAGE plpgsql
    AS $$
BEGIN
    DELETE FROM procrastinate_workers
    WHERE id = worker_id;
END;
$$;

CREATE FUNCTION public.procrastinate_update_heartbeat_v1(worker_id bigint) RETURNS void
    LANGUAGE plpgsql
    AS $$
BEGIN
    UPDATE procrastinate_workers
    SET last_heartbeat = NOW()
    WHERE id = worker_id;
END;
$$;

CREATE FUNCTION public.refuse_truncate() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
BEGIN
    RAISE EXCEPTION 'evidence is never changed or removed'
        USING ERRCODE = 'integrity_constraint_violation';
END $$;

CREATE TABLE public.audiences_audience (
    id uuid NOT NULL,
    name character varying(80) NOT NULL,
    people integer,
    counted_at timestamp with time zone,
    workspace_id uuid NOT NULL,
    CONSTRAINT audiences_audience_people_check CHECK ((people >= 0))
);

CREATE TABLE public.audiences_audiencerevision (
    id uuid NOT NULL,
    state character varying(5) NOT NULL,
    number integer,
    document jsonb NOT NULL,
    edits integer NOT NULL,
    note character varying(300) NOT NULL,
    saved_at timestamp with time zone NOT NULL,
    live_at timestamp with time zone,
    audience_id uuid NOT NULL,
    author_id uuid,
    workspace_id uuid NOT NULL,
    CONSTRAINT audiences_audiencerevision_edits_check CHECK ((edits >= 0)),
    CONSTRAINT audiences_audiencerevision_number_check CHECK ((number >= 0))
);

CREATE TABLE public.auth_group (
    id integer NOT NULL,
    name character varying(150) NOT NULL
);

ALTER TABLE public.auth_group ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.auth_group_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.auth_group_permissions (
    id bigint NOT NULL,
    group_id integer NOT NULL,
    permission_id integer NOT NULL
);

ALTER TABLE public.auth_group_permissions ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.auth_group_permissions_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.auth_permission (
    id integer NOT NULL,
    name character varying(255) NOT NULL,
    content_type_id integer NOT NULL,
    codename character varying(100) NOT NULL
);

ALTER TABLE public.auth_permission ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.auth_permission_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.axes_accessattempt (
    id integer NOT NULL,
    user_agent character varying(255) NOT NULL,
    ip_address inet,
    username character varying(255),
    http_accept character varying(1025) NOT NULL,
    path_info character varying(255) NOT NULL,
    attempt_time timestamp with time zone NOT NULL,
    get_data text NOT NULL,
    post_data text NOT NULL,
    failures_since_start integer NOT NULL,
    CONSTRAINT axes_accessattempt_failures_since_start_check CHECK ((failures_since_start >= 0))
);

ALTER TABLE public.axes_accessattempt ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.axes_accessattempt_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.axes_accessattemptexpiration (
    access_attempt_id integer NOT NULL,
    expires_at timestamp with time zone NOT NULL
);

CREATE TABLE public.axes_accessfailurelog (
    id integer NOT NULL,
    user_agent character varying(255) NOT NULL,
    ip_address inet,
    username character varying(255),
    http_accept character varying(1025) NOT NULL,
    path_info character varying(255) NOT NULL,
    attempt_time timestamp with time zone NOT NULL,
    locked_out boolean NOT NULL
);

ALTER TABLE public.axes_accessfailurelog ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.axes_accessfailurelog_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.axes_accesslog (
    id integer NOT NULL,
    user_agent character varying(255) NOT NULL,
    ip_address inet,
    username character varying(255),
    http_accept character varying(1025) NOT NULL,
    path_info character varying(255) NOT NULL,
    attempt_time timestamp with time zone NOT NULL,
    logout_time timestamp with time zone,
    session_hash character varying(64) NOT NULL
);

ALTER TABLE public.axes_accesslog ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.axes_accesslog_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.broadcasts_broadcast (
    id uuid NOT NULL,
    name character varying(80) NOT NULL,
    state character varying(13) NOT NULL,
    created_at timestamp with time zone NOT NULL,
    archived_at timestamp with time zone,
    page_key character varying(20) NOT NULL,
    set_off_at timestamp with time zone,
    begins_at timestamp with time zone,
    texts jsonb NOT NULL,
    began_at timestamp with time zone,
    decides_at timestamp with time zone,
    chosen character varying(20) NOT NULL,
    judged jsonb NOT NULL,
    counted jsonb NOT NULL,
    ended_at timestamp with time zone,
    approved_by_id uuid,
    asked_by_id uuid,
    set_off_by_id uuid,
    workspace_id uuid NOT NULL
);

CREATE TABLE public.broadcasts_broadcastrevision (
    id uuid NOT NULL,
    state character varying(5) NOT NULL,
    number integer,
    document jsonb NOT NULL,
    edits integer NOT NULL,
    note character varying(300) NOT NULL,
    saved_at timestamp with time zone NOT NULL,
    live_at timestamp with time zone,
    author_id uuid,
    broadcast_id uuid NOT NULL,
    workspace_id uuid NOT NULL,
    CONSTRAINT broadcasts_broadcastrevision_edits_check CHECK ((edits >= 0)),
    CONSTRAINT broadcasts_broadcastrevision_number_check CHECK ((number >= 0))
);

CREATE TABLE public.django_content_type (
    id integer NOT NULL,
    app_label character varying(100) NOT NULL,
    model character varying(100) NOT NULL
);

ALTER TABLE public.django_content_type ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.django_content_type_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.django_migrations (
    id bigint NOT NULL,
    app character varying(255) NOT NULL,
    name character varying(255) NOT NULL,
    applied timestamp with time zone NOT NULL
);

ALTER TABLE public.django_migrations ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.django_migrations_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.django_session (
    session_key character varying(40) NOT NULL,
    session_data text NOT NULL,
    expire_date timestamp with time zone NOT NULL
);

CREATE TABLE public.doors_admission (
    id uuid NOT NULL,
    door character varying(40) NOT NULL,
    lane character varying(40) NOT NULL,
    condition jsonb NOT NULL,
    state character varying(8) NOT NULL,
    counted integer NOT NULL,
    entered integer NOT NULL,
    kept_out integer NOT NULL,
    after uuid,
    made_at timestamp with time zone NOT NULL,
    done_at timestamp with time zone,
    member_id uuid,
    sequence_id uuid NOT NULL,
    workspace_id uuid NOT NULL,
    CONSTRAINT doors_admission_counted_check CHECK ((counted >= 0)),
    CONSTRAINT doors_admission_entered_check CHECK ((entered >= 0)),
    CONSTRAINT doors_admission_kept_out_check CHECK ((kept_out >= 0))
);

CREATE TABLE public.doors_doorheld (
    id uuid NOT NULL,
    subscriber_id uuid NOT NULL,
    workspace_id uuid NOT NULL,
    watch_id uuid NOT NULL
);

CREATE TABLE public.doors_doorseen (
    id uuid NOT NULL,
    day date NOT NULL,
    subscriber_id uuid NOT NULL,
    watch_id uuid NOT NULL,
    workspace_id uuid NOT NULL
);

CREATE TABLE public.doors_doorwatch (
    id uuid NOT NULL,
    door character varying(40) NOT NULL,
    definition character varying(64) NOT NULL,
    looked_at timestamp with time zone NOT NULL,
    until timestamp with time zone,
    after uuid,
    sequence_id uuid NOT NULL,
    workspace_id uuid NOT NULL,
    made_at timestamp with time zone
);

CREATE TABLE public.forms_picture (
    id uuid NOT NULL,
    content bytea NOT NULL,
    content_type character varying(40) NOT NULL,
    width integer NOT NULL,
    height integer NOT NULL,
    workspace_id uuid NOT NULL,
    CONSTRAINT forms_picture_height_check CHECK ((height >= 0)),
    CONSTRAINT forms_picture_width_check CHECK ((width >= 0))
);

CREATE TABLE public.imports_filepart (
    id uuid NOT NULL,
    number integer NOT NULL,
    content bytea NOT NULL,
    file_import_id uuid NOT NULL,
    workspace_id uuid NOT NULL,
    CONSTRAINT imports_filepart_number_check CHECK ((number >= 0))
);

CREATE TABLE public.imports_refusedrow (
    id uuid NOT NULL,
    number integer NOT NULL,
    cells jsonb NOT NULL,
    problem jsonb NOT NULL,
    file_import_id uuid NOT NULL,
    workspace_id uuid NOT NULL,
    CONSTRAINT imports_refusedrow_number_check CHECK ((number >= 0))
);

CREATE TABLE public.mail_broadcastpause (
    id uuid NOT NULL,
    broadcast uuid NOT NULL,
    workspace_id uuid NOT NULL
);

CREATE TABLE public.mail_librarypicture (
    id uuid NOT NULL,
    key character varying(32) NOT NULL,
    name character varying(120) NOT NULL,
    alt character varying(300) NOT NULL,
    content_type character varying(40) NOT NULL,
    content bytea NOT NULL,
    sharp bytea NOT NULL,
    width integer NOT NULL,
    height integer NOT NULL,
    size integer NOT NULL,
    added_at timestamp with time zone NOT NULL,
    member_id uuid,
    workspace_id uuid NOT NULL,
    CONSTRAINT mail_librarypicture_height_check CHECK ((height >= 0)),
    CONSTRAINT mail_librarypicture_size_check CHECK ((size >= 0)),
    CONSTRAINT mail_librarypicture_width_check CHECK ((width >= 0))
);

CREATE TABLE public.mail_listmail (
    id uuid NOT NULL,
    asking_id uuid NOT NULL,
    list_id uuid NOT NULL,
    welcome_id uuid,
    workspace_id uuid NOT NULL
);

CREATE TABLE public.mail_message (
    id uuid NOT NULL,
    name character varying(80) NOT NULL,
    workspace_id uuid NOT NULL,
    archived_at timestamp with time zone
);

CREATE TABLE public.mail_messagefile (
    id uuid NOT NULL,
    attached boolean NOT NULL,
    days smallint NOT NULL,
    message_id uuid NOT NULL,
    workspace_id uuid NOT NULL,
    file_id uuid NOT NULL,
    CONSTRAINT mail_messagefile_days_check CHECK ((days >= 0))
);

CREATE TABLE public.mail_messagerevision (
    id uuid NOT NULL,
    state character varying(5) NOT NULL,
    number integer,
    document jsonb NOT NULL,
    edits integer NOT NULL,
    note character varying(300) NOT NULL,
    saved_at timestamp with time zone NOT NULL,
    live_at timestamp with time zone,
    author_id uuid,
    message_id uuid NOT NULL,
    workspace_id uuid NOT NULL,
    CONSTRAINT mail_messagerevision_edits_check CHECK ((edits >= 0)),
    CONSTRAINT mail_messagerevision_number_check CHECK ((number >= 0))
);

CREATE TABLE public.mail_pace (
    id uuid NOT NULL,
    domain character varying(253) NOT NULL,
    hour timestamp with time zone NOT NULL,
    count integer NOT NULL,
    workspace_id uuid NOT NULL,
    CONSTRAINT mail_pace_count_check CHECK ((count >= 0))
);

CREATE TABLE public.mail_replymailbox (
    id uuid NOT NULL,
    host character varying(253) NOT NULL,
    port integer NOT NULL,
    "user" character varying(254) NOT NULL,
    password text NOT NULL,
    folder character varying(120) NOT NULL,
    validity character varying(20) NOT NULL,
    last bigint NOT NULL,
    checked_at timestamp with time zone,
    problem character varying(300) NOT NULL,
    workspace_id uuid NOT NULL,
    CONSTRAINT mail_replymailbox_last_check CHECK ((last >= 0)),
    CONSTRAINT mail_replymailbox_port_check CHECK ((port >= 0))
);

CREATE TABLE public.mail_returned (
    id uuid NOT NULL,
    kind character varying(11) NOT NULL,
    at timestamp with time zone NOT NULL,
    status character varying(20) NOT NULL,
    reason character varying(500) NOT NULL,
    subject character varying(300) NOT NULL,
    key character varying(64) NOT NULL,
    send_id uuid,
    subscriber_id uuid,
    workspace_id uuid NOT NULL
);

CREATE TABLE public.mail_send (
    id uuid NOT NULL,
    origin character varying(160) NOT NULL,
    asked_for boolean NOT NULL,
    answers jsonb NOT NULL,
    state character varying(12) NOT NULL,
    queued_at timestamp with time zone NOT NULL,
    sent_at timestamp with time zone,
    attempts smallint NOT NULL,
    subject character varying(998) NOT NULL,
    reply character varying(500) NOT NULL,
    list_id uuid,
    message_id uuid NOT NULL,
    snag_id uuid,
    subscriber_id uuid NOT NULL,
    workspace_id uuid NOT NULL,
    not_before timestamp with time zone,
    handed_at timestamp with time zone,
    holds uuid,
    sequence uuid,
    step character varying(40) NOT NULL,
    cause_id uuid NOT NULL,
    sentence text NOT NULL,
    by_submission uuid,
    by_run uuid,
    by_send uuid,
    by_replay uuid,
    came_back character varying(10) NOT NULL,
    came_back_at timestamp with time zone,
    clicked_at timestamp with time zone,
    counts_opens boolean NOT NULL,
    domain character varying(253) NOT NULL,
    left_at timestamp with time zone,
    links smallint NOT NULL,
    opened_at timestamp with time zone,
    revision_id uuid,
    was_held boolean NOT NULL,
    act character varying(80) NOT NULL,
    any_hour boolean NOT NULL,
    probes boolean NOT NULL,
    retry_at timestamp with time zone,
    soft_mailbox boolean NOT NULL,
    allowed_by uuid,
    broadcast uuid,
    evidence character varying(64) NOT NULL,
    version character varying(20) NOT NULL,
    CONSTRAINT mail_send_attempts_check CHECK ((attempts >= 0)),
    CONSTRAINT mail_send_links_check CHECK ((links >= 0))
);

CREATE TABLE public.mail_sendingdomain (
    id uuid NOT NULL,
    domain character varying(253) NOT NULL,
    selector character varying(40) NOT NULL,
    rsa_key text NOT NULL,
    ed_key text NOT NULL,
    signs boolean NOT NULL,
    found jsonb NOT NULL,
    checked_at timestamp with time zone,
    made_at timestamp with time zone NOT NULL,
    workspace_id uuid NOT NULL
);

CREATE TABLE public.mail_sendinghold (
    id uuid NOT NULL,
    scope character varying(300) NOT NULL,
    reply character varying(500) NOT NULL,
    since timestamp with time zone NOT NULL,
    tries smallint NOT NULL,
    try_at timestamp with time zone NOT NULL,
    snag_id uuid,
    workspace_id uuid NOT NULL,
    CONSTRAINT mail_sendinghold_tries_check CHECK ((tries >= 0))
);

CREATE TABLE public.mail_storedfile (
    id uuid NOT NULL,
    name character varying(120) NOT NULL,
    content_type character varying(100) NOT NULL,
    size integer NOT NULL,
    content bytea NOT NULL,
    added_at timestamp with time zone NOT NULL,
    member_id uuid,
    workspace_id uuid NOT NULL,
    CONSTRAINT mail_storedfile_size_check CHECK ((size >= 0))
);

CREATE TABLE public.mail_touch (
    id uuid NOT NULL,
    kind character varying(5) NOT NULL,
    link character varying(500) NOT NULL,
    at timestamp with time zone NOT NULL,
    agent character varying(200) NOT NULL,
    by character varying(7) NOT NULL,
    why character varying(40) NOT NULL,
    send_id uuid NOT NULL,
    workspace_id uuid NOT NULL
);

CREATE TABLE public.notices_notice (
    id uuid NOT NULL,
    kind character varying(12) NOT NULL,
    about character varying(120) NOT NULL,
    at timestamp with time zone NOT NULL,
    count integer NOT NULL,
    workspace_id uuid NOT NULL,
    CONSTRAINT notices_notice_count_check CHECK ((count >= 0))
);

CREATE TABLE public.people_erased (
    id uuid NOT NULL,
    key character varying(64) NOT NULL,
    suppressed boolean NOT NULL,
    at timestamp with time zone NOT NULL,
    workspace_id uuid NOT NULL
);

CREATE TABLE public.people_evidence (
    id uuid NOT NULL,
    at timestamp with time zone NOT NULL,
    before character varying(12) NOT NULL,
    after character varying(12) NOT NULL,
    wording text NOT NULL,
    page text NOT NULL,
    ip inet,
    because jsonb NOT NULL,
    workspace_id uuid NOT NULL,
    membership_id uuid NOT NULL,
    chain uuid NOT NULL,
    number integer NOT NULL,
    previous character varying(64) NOT NULL,
    hash character varying(64) NOT NULL,
    CONSTRAINT people_evidence_number_check CHECK ((number >= 0))
);

CREATE TABLE public.people_evidencereleased (
    id uuid NOT NULL,
    chain uuid NOT NULL,
    at timestamp with time zone NOT NULL,
    signature character varying(64) NOT NULL,
    workspace_id uuid NOT NULL
);

CREATE TABLE public.people_fact (
    id uuid NOT NULL,
    workspace_id uuid NOT NULL,
    subscriber_id uuid NOT NULL,
    at timestamp with time zone NOT NULL,
    kind character varying(12) NOT NULL,
    about character varying(80) NOT NULL,
    what jsonb NOT NULL,
    cause_id uuid NOT NULL,
    sentence text NOT NULL,
    by_submission uuid,
    by_run uuid,
    by_send uuid,
    by_replay uuid
)
PARTITION BY RANGE (id);

CREATE TABLE public.people_fact_rest (
    id uuid NOT NULL,
    workspace_id uuid NOT NULL,
    subscriber_id uuid NOT NULL,
    at timestamp with time zone NOT NULL,
    kind character varying(12) NOT NULL,
    about character varying(80) NOT NULL,
    what jsonb NOT NULL,
    cause_id uuid NOT NULL,
    sentence text NOT NULL,
    by_submission uuid,
    by_run uuid,
    by_send uuid,
    by_replay uuid
);

CREATE TABLE public.people_field (
    id uuid NOT NULL,
    key character varying(60) NOT NULL,
    label character varying(80) NOT NULL,
    type character varying(12) NOT NULL,
    choices jsonb NOT NULL,
    built_in boolean NOT NULL,
    workspace_id uuid NOT NULL
);

CREATE TABLE public.people_formeraddress (
    id uuid NOT NULL,
    address character varying(254) NOT NULL,
    key character varying(254) NOT NULL,
    since timestamp with time zone,
    until timestamp with time zone NOT NULL,
    subscriber_id uuid NOT NULL,
    workspace_id uuid NOT NULL
);

CREATE TABLE public.people_frozengroup (
    id uuid NOT NULL,
    name character varying(80) NOT NULL,
    made_at timestamp with time zone NOT NULL,
    of character varying(500) NOT NULL,
    made_by_id uuid,
    workspace_id uuid NOT NULL
);

CREATE TABLE public.people_frozenmember (
    id uuid NOT NULL,
    group_id uuid NOT NULL,
    subscriber_id uuid NOT NULL,
    workspace_id uuid NOT NULL
);

CREATE TABLE public.people_mailinglist (
    id uuid NOT NULL,
    name character varying(80) NOT NULL,
    folded character varying(80) NOT NULL,
    description character varying(300) NOT NULL,
    workspace_id uuid NOT NULL,
    confirms boolean NOT NULL,
    pages jsonb NOT NULL,
    public_name character varying(80) NOT NULL,
    reply_to character varying(254) NOT NULL,
    sender_address character varying(254) NOT NULL,
    sender_name character varying(120) NOT NULL,
    language character varying(35) NOT NULL,
    words jsonb NOT NULL
);

CREATE TABLE public.people_membership (
    id uuid NOT NULL,
    state character varying(12) NOT NULL,
    changed_at timestamp with time zone NOT NULL,
    list_id uuid NOT NULL,
    workspace_id uuid NOT NULL,
    subscriber_id uuid NOT NULL,
    left_at timestamp with time zone,
    cause_id uuid NOT NULL,
    sentence text NOT NULL,
    by_submission uuid,
    by_run uuid,
    by_send uuid,
    by_replay uuid
);

CREATE TABLE public.people_mention (
    id uuid NOT NULL,
    key character varying(254) NOT NULL,
    kind character varying(8) NOT NULL,
    "row" uuid NOT NULL,
    workspace_id uuid NOT NULL
);

CREATE TABLE public.people_merge (
    id uuid NOT NULL,
    gone_address character varying(254) NOT NULL,
    at timestamp with time zone NOT NULL,
    until timestamp with time zone NOT NULL,
    undone_at timestamp with time zone,
    because jsonb NOT NULL,
    restore jsonb NOT NULL,
    kept_id uuid NOT NULL,
    workspace_id uuid NOT NULL
);

CREATE TABLE public.people_ownrequest (
    id uuid NOT NULL,
    kind character varying(8) NOT NULL,
    "to" character varying(254) NOT NULL,
    new_address character varying(254) NOT NULL,
    asked_at timestamp with time zone NOT NULL,
    done_at timestamp with time zone,
    because jsonb NOT NULL,
    subscriber_id uuid NOT NULL,
    workspace_id uuid NOT NULL
);

CREATE TABLE public.people_subscriber (
    id uuid NOT NULL,
    address character varying(254) NOT NULL,
    address_key character varying(254) NOT NULL,
    "values" jsonb NOT NULL,
    searched text NOT NULL,
    time_zone character varying(64) NOT NULL,
    added_at timestamp with time zone NOT NULL,
    workspace_id uuid NOT NULL,
    is_test boolean NOT NULL,
    folded jsonb NOT NULL,
    score integer NOT NULL,
    owner_id uuid,
    gap_days smallint NOT NULL,
    left_all_at timestamp with time zone,
    uncounted boolean NOT NULL,
    CONSTRAINT people_subscriber_gap_days_check CHECK ((gap_days >= 0))
);

CREATE TABLE public.people_suppression (
    id uuid NOT NULL,
    kind character varying(8) NOT NULL,
    key character varying(254) NOT NULL,
    reason character varying(200) NOT NULL,
    added_at timestamp with time zone NOT NULL,
    member_id uuid,
    workspace_id uuid NOT NULL
);

CREATE TABLE public.people_tag (
    id uuid NOT NULL,
    name character varying(60) NOT NULL,
    folded character varying(60) NOT NULL,
    workspace_id uuid NOT NULL
);

CREATE TABLE public.people_tagging (
    id uuid NOT NULL,
    at timestamp with time zone NOT NULL,
    subscriber_id uuid NOT NULL,
    tag_id uuid NOT NULL,
    workspace_id uuid NOT NULL,
    cause_id uuid NOT NULL,
    sentence text NOT NULL,
    by_submission uuid,
    by_run uuid,
    by_send uuid,
    by_replay uuid
);

CREATE TABLE public.people_task (
    id uuid NOT NULL,
    title character varying(200) NOT NULL,
    made_at timestamp with time zone NOT NULL,
    due_at timestamp with time zone NOT NULL,
    done_at timestamp with time zone,
    member_id uuid,
    subscriber_id uuid NOT NULL,
    workspace_id uuid NOT NULL,
    cause_id uuid NOT NULL,
    sentence text NOT NULL,
    by_submission uuid,
    by_run uuid,
    by_send uuid,
    by_replay uuid
);

CREATE TABLE public.procrastinate_events (
    id bigint NOT NULL,
    job_id bigint NOT NULL,
    type public.procrastinate_job_event_type,
    at timestamp with time zone DEFAULT now()
);

CREATE SEQUENCE public.procrastinate_events_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1;

ALTER SEQUENCE public.procrastinate_events_id_seq OWNED BY public.procrastinate_events.id;

CREATE SEQUENCE public.procrastinate_jobs_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1;

ALTER SEQUENCE public.procrastinate_jobs_id_seq OWNED BY public.procrastinate_jobs.id;

CREATE TABLE public.procrastinate_periodic_defers (
    id bigint NOT NULL,
    task_name character varying(128) NOT NULL,
    defer_timestamp bigint,
    job_id bigint,
    periodic_id character varying(128) DEFAULT ''::character varying NOT NULL
);

CREATE SEQUENCE public.procrastinate_periodic_defers_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1;

ALTER SEQUENCE public.procrastinate_periodic_defers_id_seq OWNED BY public.procrastinate_periodic_defers.id;

CREATE TABLE public.procrastinate_workers (
    id bigint NOT NULL,
    last_heartbeat timestamp with time zone DEFAULT now() NOT NULL
);

ALTER TABLE public.procrastinate_workers ALTER COLUMN id ADD GENERATED ALWAYS AS IDENTITY (
    SEQUENCE NAME public.procrastinate_workers_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.replays_replay (
    id uuid NOT NULL,
    member_name character varying(120) NOT NULL,
    wanted jsonb NOT NULL,
    allowed jsonb NOT NULL,
    state character varying(8) NOT NULL,
    people integer NOT NULL,
    submissions integer NOT NULL,
    next_line integer NOT NULL,
    counts jsonb NOT NULL,
    failure character varying(300) NOT NULL,
    created_at timestamp with time zone NOT NULL,
    ran_at timestamp with time zone,
    member_id uuid,
    revision_id uuid NOT NULL,
    source_id uuid NOT NULL,
    workspace_id uuid NOT NULL,
    CONSTRAINT replays_replay_next_line_check CHECK ((next_line >= 0)),
    CONSTRAINT replays_replay_people_check CHECK ((people >= 0)),
    CONSTRAINT replays_replay_submissions_check CHECK ((submissions >= 0))
);

CREATE TABLE public.replays_replayline (
    id uuid NOT NULL,
    number integer NOT NULL,
    address character varying(254) NOT NULL,
    submissions jsonb NOT NULL,
    effects jsonb NOT NULL,
    kept jsonb NOT NULL,
    made boolean NOT NULL,
    before jsonb NOT NULL,
    done boolean NOT NULL,
    replay_id uuid NOT NULL,
    subscriber_id uuid,
    workspace_id uuid NOT NULL,
    CONSTRAINT replays_replayline_number_check CHECK ((number >= 0))
);

CREATE TABLE public.sequences_forecast (
    id uuid NOT NULL,
    made_at timestamp with time zone NOT NULL,
    seconds double precision NOT NULL,
    people integer NOT NULL,
    content jsonb NOT NULL,
    workspace_id uuid NOT NULL,
    CONSTRAINT sequences_forecast_people_check CHECK ((people >= 0))
);

CREATE TABLE public.sequences_forecastperson (
    id uuid NOT NULL,
    emails smallint NOT NULL,
    first_at timestamp with time zone NOT NULL,
    subscriber_id uuid NOT NULL,
    workspace_id uuid NOT NULL,
    CONSTRAINT sequences_forecastperson_emails_check CHECK ((emails >= 0))
);

CREATE TABLE public.sequences_run (
    id uuid NOT NULL,
    lane character varying(40) NOT NULL,
    step character varying(40),
    due_at timestamp with time zone,
    ended character varying(20) NOT NULL,
    entered_at timestamp with time zone NOT NULL,
    ended_at timestamp with time zone,
    answers jsonb NOT NULL,
    subscriber_id uuid NOT NULL,
    workspace_id uuid NOT NULL,
    sequence_id uuid NOT NULL,
    revision_id uuid NOT NULL,
    retry_at timestamp with time zone,
    snag_id uuid,
    tries smallint NOT NULL,
    cause_id uuid NOT NULL,
    sentence text NOT NULL,
    by_submission uuid,
    by_run uuid,
    by_send uuid,
    by_replay uuid,
    came_at timestamp with time zone,
    door character varying(40) NOT NULL,
    goal character varying(40) NOT NULL,
    goal_at timestamp with time zone,
    goals jsonb NOT NULL,
    lap integer NOT NULL,
    moved jsonb NOT NULL,
    number integer NOT NULL,
    act character varying(80) NOT NULL,
    CONSTRAINT sequences_run_lap_check CHECK ((lap >= 0)),
    CONSTRAINT sequences_run_number_check CHECK ((number >= 0)),
    CONSTRAINT sequences_run_tries_check CHECK ((tries >= 0))
);

CREATE TABLE public.sequences_sequence (
    id uuid NOT NULL,
    name character varying(80) NOT NULL,
    state character varying(6) NOT NULL,
    created_at timestamp with time zone NOT NULL,
    workspace_id uuid NOT NULL,
    archived_at timestamp with time zone
);

CREATE TABLE public.sequences_sequencerevision (
    id uuid NOT NULL,
    state character varying(5) NOT NULL,
    number integer,
    document jsonb NOT NULL,
    edits integer NOT NULL,
    note character varying(300) NOT NULL,
    saved_at timestamp with time zone NOT NULL,
    live_at timestamp with time zone,
    author_id uuid,
    sequence_id uuid NOT NULL,
    workspace_id uuid NOT NULL,
    CONSTRAINT sequences_sequencerevision_edits_check CHECK ((edits >= 0)),
    CONSTRAINT sequences_sequencerevision_number_check CHECK ((number >= 0))
);

CREATE TABLE public.sequences_signal (
    id uuid NOT NULL,
    kind character varying(12) NOT NULL,
    about character varying(80) NOT NULL,
    state character varying(400) NOT NULL,
    at timestamp with time zone NOT NULL,
    subscriber_id uuid NOT NULL,
    workspace_id uuid NOT NULL,
    act character varying(80) NOT NULL,
    retry_at timestamp with time zone,
    tries smallint NOT NULL,
    CONSTRAINT sequences_signal_tries_check CHECK ((tries >= 0))
);

CREATE TABLE public.sequences_visit (
    id uuid NOT NULL,
    step character varying(40) NOT NULL,
    came_at timestamp with time zone NOT NULL,
    went_on_at timestamp with time zone,
    run_id uuid NOT NULL,
    sequence_id uuid NOT NULL,
    workspace_id uuid NOT NULL,
    lap integer NOT NULL,
    way character varying(40) NOT NULL,
    CONSTRAINT sequences_visit_lap_check CHECK ((lap >= 0))
);

CREATE TABLE public.services_attempt (
    id uuid NOT NULL,
    at timestamp with time zone NOT NULL,
    what character varying(12) NOT NULL,
    request text NOT NULL,
    status integer,
    answer text NOT NULL,
    seconds double precision NOT NULL,
    workspace_id uuid NOT NULL,
    handoff_id uuid NOT NULL,
    CONSTRAINT services_attempt_status_check CHECK ((status >= 0))
);

CREATE TABLE public.services_handoff (
    id uuid NOT NULL,
    sentence text NOT NULL,
    by_submission uuid,
    by_run uuid,
    by_send uuid,
    by_replay uuid,
    origin character varying(120) NOT NULL,
    operation character varying(80) NOT NULL,
    line character varying(80) NOT NULL,
    answers jsonb NOT NULL,
    address character varying(254) NOT NULL,
    state character varying(12) NOT NULL,
    created_at timestamp with time zone NOT NULL,
    due_at timestamp with time zone NOT NULL,
    began_at timestamp with time zone,
    worker bigint,
    tries integer NOT NULL,
    looks_first boolean NOT NULL,
    done_at timestamp with time zone,
    their_id character varying(200) NOT NULL,
    outcome character varying(300) NOT NULL,
    fault character varying(120) NOT NULL,
    is_test boolean NOT NULL,
    cause_id uuid NOT NULL,
    subscriber_id uuid,
    workspace_id uuid NOT NULL,
    plan_id uuid NOT NULL,
    service_id uuid NOT NULL,
    CONSTRAINT services_handoff_tries_check CHECK ((tries >= 0))
);

CREATE TABLE public.services_heard (
    id uuid NOT NULL,
    event_id character varying(200) NOT NULL,
    type character varying(80) NOT NULL,
    at timestamp with time zone NOT NULL,
    state character varying(8) NOT NULL,
    content jsonb,
    outcome character varying(300) NOT NULL,
    address_key character varying(254) NOT NULL,
    subscriber_id uuid,
    workspace_id uuid NOT NULL,
    service_id uuid NOT NULL
);

CREATE TABLE public.services_plan (
    id uuid NOT NULL,
    content jsonb NOT NULL,
    workspace_id uuid NOT NULL
);

CREATE TABLE public.services_service (
    id uuid NOT NULL,
    name character varying(80) NOT NULL,
    folded character varying(80) NOT NULL,
    purpose character varying(200) NOT NULL,
    description jsonb NOT NULL,
    secret text NOT NULL,
    state character varying(10) NOT NULL,
    trouble character varying(300) NOT NULL,
    account character varying(120) NOT NULL,
    checked_at timestamp with time zone,
    fields jsonb NOT NULL,
    things jsonb NOT NULL,
    read_at timestamp with time zone,
    passes_leaving boolean NOT NULL,
    passes_erasing boolean NOT NULL,
    handed_at timestamp with time zone,
    failures integer NOT NULL,
    open_until timestamp with time zone,
    tokens double precision NOT NULL,
    tokens_at timestamp with time zone,
    hear_key character varying(40) NOT NULL,
    hear_secret text NOT NULL,
    hear_secret_before text NOT NULL,
    hear_secret_until timestamp with time zone,
    hears_unknown boolean NOT NULL,
    hears_leaving boolean NOT NULL,
    hears jsonb NOT NULL,
    heard_at timestamp with time zone,
    poll_minutes integer NOT NULL,
    poll_at timestamp with time zone,
    cursor text NOT NULL,
    list_id uuid,
    workspace_id uuid NOT NULL,
    CONSTRAINT services_service_failures_check CHECK ((failures >= 0)),
    CONSTRAINT services_service_poll_minutes_check CHECK ((poll_minutes >= 0))
);

CREATE TABLE public.snags_snag (
    id uuid NOT NULL,
    about character varying(12) NOT NULL,
    cause character varying(200) NOT NULL,
    sentence character varying(500) NOT NULL,
    fix character varying(500) NOT NULL,
    place jsonb NOT NULL,
    times integer NOT NULL,
    first_at timestamp with time zone NOT NULL,
    last_at timestamp with time zone NOT NULL,
    closed_at timestamp with time zone,
    workspace_id uuid NOT NULL,
    CONSTRAINT snags_snag_times_check CHECK ((times >= 0))
);

CREATE TABLE public.sources_routerevision (
    id uuid NOT NULL,
    state character varying(5) NOT NULL,
    number integer,
    document jsonb NOT NULL,
    edits integer NOT NULL,
    note character varying(300) NOT NULL,
    saved_at timestamp with time zone NOT NULL,
    live_at timestamp with time zone,
    author_id uuid,
    workspace_id uuid NOT NULL,
    source_id uuid NOT NULL,
    CONSTRAINT sources_routerevision_edits_check CHECK ((edits >= 0)),
    CONSTRAINT sources_routerevision_number_check CHECK ((number >= 0))
);

CREATE TABLE public.sources_source (
    id uuid NOT NULL,
    name character varying(80) NOT NULL,
    kind character varying(10) NOT NULL,
    key character varying(80) NOT NULL,
    state character varying(6) NOT NULL,
    created_at timestamp with time zone NOT NULL,
    archived_at timestamp with time zone,
    turns bigint NOT NULL,
    secret text NOT NULL,
    workspace_id uuid NOT NULL,
    CONSTRAINT sources_source_turns_check CHECK ((turns >= 0))
);

CREATE TABLE public.sources_watch (
    id uuid NOT NULL,
    address character varying(2000) NOT NULL,
    minutes integer NOT NULL,
    key_heading character varying(200) NOT NULL,
    headings jsonb NOT NULL,
    next_at timestamp with time zone,
    looked_at timestamp with time zone,
    rows integer NOT NULL,
    came integer NOT NULL,
    problem jsonb,
    source_id uuid NOT NULL,
    workspace_id uuid NOT NULL,
    CONSTRAINT sources_watch_came_check CHECK ((came >= 0)),
    CONSTRAINT sources_watch_minutes_check CHECK ((minutes >= 0)),
    CONSTRAINT sources_watch_rows_check CHECK ((rows >= 0))
);

CREATE TABLE public.submissions_fileimport (
    id uuid NOT NULL,
    name character varying(200) NOT NULL,
    size bigint NOT NULL,
    state character varying(10) NOT NULL,
    shape jsonb NOT NULL,
    headings jsonb NOT NULL,
    start jsonb NOT NULL,
    consent text NOT NULL,
    rows integer NOT NULL,
    next_row integer NOT NULL,
    counts jsonb NOT NULL,
    refusals jsonb NOT NULL,
    forecast jsonb,
    failure character varying(300) NOT NULL,
    holds_erased boolean NOT NULL,
    created_at timestamp with time zone NOT NULL,
    ended_at timestamp with time zone,
    member_id uuid,
    source_id uuid NOT NULL,
    workspace_id uuid NOT NULL,
    CONSTRAINT submissions_fileimport_next_row_check CHECK ((next_row >= 0)),
    CONSTRAINT submissions_fileimport_rows_check CHECK ((rows >= 0)),
    CONSTRAINT submissions_fileimport_size_check CHECK ((size >= 0))
);

CREATE TABLE public.submissions_submission (
    id uuid NOT NULL,
    answers jsonb NOT NULL,
    context jsonb NOT NULL,
    signs jsonb NOT NULL,
    raw bytea,
    raw_type character varying(200) NOT NULL,
    idempotency_key character varying(120) NOT NULL COLLATE pg_catalog."C",
    person_key character varying(300) NOT NULL COLLATE pg_catalog."C",
    visitor character varying(32) NOT NULL,
    is_test boolean NOT NULL,
    held_because character varying(200) NOT NULL,
    released boolean NOT NULL,
    forgotten_at timestamp with time zone,
    received_at timestamp with time zone NOT NULL,
    state character varying(8) NOT NULL,
    routed_at timestamp with time zone,
    decision jsonb,
    file_import_id uuid,
    revision_id uuid,
    shown_id uuid,
    snag_id uuid,
    source_id uuid NOT NULL,
    subscriber_id uuid,
    workspace_id uuid NOT NULL
);

CREATE TABLE public.webhooks_call (
    id uuid NOT NULL,
    at timestamp with time zone NOT NULL,
    headers jsonb NOT NULL,
    body bytea NOT NULL,
    status smallint NOT NULL,
    outcome character varying(300) NOT NULL,
    source_id uuid NOT NULL,
    submission_id uuid,
    workspace_id uuid NOT NULL,
    CONSTRAINT webhooks_call_status_check CHECK ((status >= 0))
);

CREATE TABLE public.workspaces_cause (
    id uuid NOT NULL,
    content jsonb NOT NULL,
    workspace_id uuid NOT NULL
);

CREATE TABLE public.workspaces_historyentry (
    id uuid NOT NULL,
    at timestamp with time zone NOT NULL,
    member_name character varying(120) NOT NULL,
    sentence character varying(500) NOT NULL,
    place jsonb NOT NULL,
    member_id uuid,
    workspace_id uuid NOT NULL,
    kind character varying(12) NOT NULL
);

CREATE TABLE public.workspaces_member (
    id uuid NOT NULL,
    role character varying(10) NOT NULL,
    user_id bigint NOT NULL,
    workspace_id uuid NOT NULL,
    told_of jsonb
);

CREATE TABLE public.workspaces_user (
    id bigint NOT NULL,
    password character varying(128) NOT NULL,
    last_login timestamp with time zone,
    is_superuser boolean NOT NULL,
    first_name character varying(150) NOT NULL,
    last_name character varying(150) NOT NULL,
    is_staff boolean NOT NULL,
    is_active boolean NOT NULL,
    date_joined timestamp with time zone NOT NULL,
    email character varying(254) NOT NULL,
    name character varying(120) NOT NULL,
    clock smallint NOT NULL,
    dates character varying(5) NOT NULL,
    numbers character varying(5) NOT NULL,
    CONSTRAINT workspaces_user_clock_check CHECK ((clock >= 0))
);

CREATE TABLE public.workspaces_user_groups (
    id bigint NOT NULL,
    user_id bigint NOT NULL,
    group_id integer NOT NULL
);

ALTER TABLE public.workspaces_user_groups ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.workspaces_user_groups_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

ALTER TABLE public.workspaces_user ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.workspaces_user_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.workspaces_user_user_permissions (
    id bigint NOT NULL,
    user_id bigint NOT NULL,
    permission_id integer NOT NULL
);

ALTER TABLE public.workspaces_user_user_permissions ALTER COLUMN id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME public.workspaces_user_user_permissions_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

CREATE TABLE public.workspaces_workspace (
    id uuid NOT NULL,
    name character varying(120) NOT NULL,
    slug character varying(60) NOT NULL,
    time_zone character varying(64) NOT NULL,
    sender_name character varying(120) NOT NULL,
    sender_address character varying(254) NOT NULL,
    postal_address character varying(300) NOT NULL,
    keeps_ip boolean NOT NULL,
    clock_offset interval NOT NULL,
    created_at timestamp with time zone NOT NULL,
    country character varying(2) NOT NULL,
    retention_days integer,
    asks_zone boolean NOT NULL,
    catalogue_version uuid NOT NULL,
    email_gap_days smallint NOT NULL,
    sending_times jsonb NOT NULL,
    counts_clicks boolean NOT NULL,
    counts_opens boolean NOT NULL,
    hourly_emails integer,
    hourly_per_domain integer,
    house_style jsonb NOT NULL,
    language character varying(35) NOT NULL,
    reply_to character varying(254) NOT NULL,
    warms_up_from date,
    attention_after integer NOT NULL,
    many_in_a_day integer NOT NULL,
    approves_broadcasts boolean NOT NULL,
    CONSTRAINT workspaces_workspace_attention_after_check CHECK ((attention_after >= 0)),
    CONSTRAINT workspaces_workspace_email_gap_days_check CHECK ((email_gap_days >= 0)),
    CONSTRAINT workspaces_workspace_hourly_emails_check CHECK ((hourly_emails >= 0)),
    CONSTRAINT workspaces_workspace_hourly_per_domain_check CHECK ((hourly_per_domain >= 0)),
    CONSTRAINT workspaces_workspace_many_in_a_day_check CHECK ((many_in_a_day >= 0)),
    CONSTRAINT workspaces_workspace_retention_days_check CHECK ((retention_days >= 0))
);

ALTER TABLE ONLY public.people_fact ATTACH PARTITION public.people_fact_rest DEFAULT;

ALTER TABLE ONLY public.procrastinate_events ALTER COLUMN id SET DEFAULT nextval('public.procrastinate_events_id_seq'::regclass);

ALTER TABLE ONLY public.procrastinate_jobs ALTER COLUMN id SET DEFAULT nextval('public.procrastinate_jobs_id_seq'::regclass);

ALTER TABLE ONLY public.procrastinate_periodic_defers ALTER COLUMN id SET DEFAULT nextval('public.procrastinate_periodic_defers_id_seq'::regclass);

ALTER TABLE ONLY public.audiences_audience
    ADD CONSTRAINT audiences_audience_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.audiences_audiencerevision
    ADD CONSTRAINT audiences_audiencerevision_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.auth_group
    ADD CONSTRAINT auth_group_name_key UNIQUE (name);

ALTER TABLE ONLY public.auth_group_permissions
    ADD CONSTRAINT auth_group_permissions_group_id_permission_id_0cd325b0_uniq UNIQUE (group_id, permission_id);

ALTER TABLE ONLY public.auth_group_permissions
    ADD CONSTRAINT auth_group_permissions_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.auth_group
    ADD CONSTRAINT auth_group_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.auth_permission
    ADD CONSTRAINT auth_permission_content_type_id_codename_01ab375a_uniq UNIQUE (content_type_id, codename);

ALTER TABLE ONLY public.auth_permission
    ADD CONSTRAINT auth_permission_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.axes_accessattempt
    ADD CONSTRAINT axes_accessattempt_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.axes_accessattempt
    ADD CONSTRAINT axes_accessattempt_username_ip_address_user_agent_8ea22282_uniq UNIQUE (username, ip_address, user_agent);

ALTER TABLE ONLY public.axes_accessattemptexpiration
    ADD CONSTRAINT axes_accessattemptexpiration_pkey PRIMARY KEY (access_attempt_id);

ALTER TABLE ONLY public.axes_accessfailurelog
    ADD CONSTRAINT axes_accessfailurelog_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.axes_accesslog
    ADD CONSTRAINT axes_accesslog_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.broadcasts_broadcast
    ADD CONSTRAINT broadcasts_broadcast_page_key_key UNIQUE (page_key);

ALTER TABLE ONLY public.broadcasts_broadcast
    ADD CONSTRAINT broadcasts_broadcast_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.broadcasts_broadcastrevision
    ADD CONSTRAINT broadcasts_broadcastrevision_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.django_content_type
    ADD CONSTRAINT django_content_type_app_label_model_76bd3d3b_uniq UNIQUE (app_label, model);

ALTER TABLE ONLY public.django_content_type
    ADD CONSTRAINT django_content_type_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.django_migrations
    ADD CONSTRAINT django_migrations_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.django_session
    ADD CONSTRAINT django_session_pkey PRIMARY KEY (session_key);

ALTER TABLE ONLY public.doors_admission
    ADD CONSTRAINT doors_admission_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.doors_doorheld
    ADD CONSTRAINT doors_doorheld_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.doors_doorseen
    ADD CONSTRAINT doors_doorseen_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.doors_doorwatch
    ADD CONSTRAINT doors_doorwatch_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.forms_picture
    ADD CONSTRAINT forms_picture_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.doors_doorheld
    ADD CONSTRAINT held_once UNIQUE (watch_id, subscriber_id);

ALTER TABLE ONLY public.imports_filepart
    ADD CONSTRAINT imports_filepart_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.imports_refusedrow
    ADD CONSTRAINT imports_refusedrow_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.mail_broadcastpause
    ADD CONSTRAINT mail_broadcastpause_broadcast_key UNIQUE (broadcast);

ALTER TABLE ONLY public.mail_broadcastpause
    ADD CONSTRAINT mail_broadcastpause_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.mail_librarypicture
    ADD CONSTRAINT mail_librarypicture_key_key UNIQUE (key);

ALTER TABLE ONLY public.mail_librarypicture
    ADD CONSTRAINT mail_librarypicture_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.mail_listmail
    ADD CONSTRAINT mail_listmail_list_id_key UNIQUE (list_id);

ALTER TABLE ONLY public.mail_listmail
    ADD CONSTRAINT mail_listmail_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.mail_message
    ADD CONSTRAINT mail_message_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.mail_messagefile
    ADD CONSTRAINT mail_messagefile_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.mail_messagerevision
    ADD CONSTRAINT mail_messagerevision_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.mail_pace
    ADD CONSTRAINT mail_pace_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.mail_replymailbox
    ADD CONSTRAINT mail_replymailbox_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.mail_replymailbox
    ADD CONSTRAINT mail_replymailbox_workspace_id_key UNIQUE (workspace_id);

ALTER TABLE ONLY public.mail_returned
    ADD CONSTRAINT mail_returned_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.mail_send
    ADD CONSTRAINT mail_send_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.mail_sendingdomain
    ADD CONSTRAINT mail_sendingdomain_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.mail_sendinghold
    ADD CONSTRAINT mail_sendinghold_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.mail_storedfile
    ADD CONSTRAINT mail_storedfile_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.mail_touch
    ADD CONSTRAINT mail_touch_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.notices_notice
    ADD CONSTRAINT notices_notice_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.people_frozenmember
    ADD CONSTRAINT once_in_a_group UNIQUE (subscriber_id, group_id);

ALTER TABLE ONLY public.people_erased
    ADD CONSTRAINT one_erasure_per_address UNIQUE (workspace_id, key);

ALTER TABLE ONLY public.people_evidence
    ADD CONSTRAINT one_evidence_per_number UNIQUE (chain, number);

ALTER TABLE ONLY public.people_field
    ADD CONSTRAINT one_field_per_key UNIQUE (workspace_id, key);

ALTER TABLE ONLY public.mail_messagefile
    ADD CONSTRAINT one_file_per_message UNIQUE (message_id, file_id);

ALTER TABLE ONLY public.people_formeraddress
    ADD CONSTRAINT one_former_each UNIQUE (subscriber_id, key);

ALTER TABLE ONLY public.people_frozengroup
    ADD CONSTRAINT one_group_of_a_name UNIQUE (workspace_id, name);

ALTER TABLE ONLY public.services_handoff
    ADD CONSTRAINT one_handoff_per_origin UNIQUE (service_id, origin);

ALTER TABLE ONLY public.services_heard
    ADD CONSTRAINT one_heard_per_event UNIQUE (service_id, event_id);

ALTER TABLE ONLY public.mail_sendinghold
    ADD CONSTRAINT one_hold_each UNIQUE (workspace_id, scope);

ALTER TABLE ONLY public.replays_replayline
    ADD CONSTRAINT one_line_per_number UNIQUE (replay_id, number);

ALTER TABLE ONLY public.people_mailinglist
    ADD CONSTRAINT one_list_per_name UNIQUE (workspace_id, folded);

ALTER TABLE ONLY public.workspaces_member
    ADD CONSTRAINT one_member_per_user UNIQUE (workspace_id, user_id);

ALTER TABLE ONLY public.people_membership
    ADD CONSTRAINT one_membership_each UNIQUE (subscriber_id, list_id);

ALTER TABLE ONLY public.people_mention
    ADD CONSTRAINT one_mention_each UNIQUE (workspace_id, key, kind, "row");

ALTER TABLE ONLY public.notices_notice
    ADD CONSTRAINT one_notice_per_cause UNIQUE (workspace_id, kind, about);

ALTER TABLE ONLY public.audiences_audiencerevision
    ADD CONSTRAINT one_number_per_audience UNIQUE (audience_id, number);

ALTER TABLE ONLY public.broadcasts_broadcastrevision
    ADD CONSTRAINT one_number_per_broadcast UNIQUE (broadcast_id, number);

ALTER TABLE ONLY public.mail_messagerevision
    ADD CONSTRAINT one_number_per_message UNIQUE (message_id, number);

ALTER TABLE ONLY public.sequences_sequencerevision
    ADD CONSTRAINT one_number_per_sequence UNIQUE (sequence_id, number);

ALTER TABLE ONLY public.sources_routerevision
    ADD CONSTRAINT one_number_per_source UNIQUE (source_id, number);

ALTER TABLE ONLY public.mail_pace
    ADD CONSTRAINT one_pace_each UNIQUE (workspace_id, domain, hour);

ALTER TABLE ONLY public.imports_filepart
    ADD CONSTRAINT one_part_per_number UNIQUE (file_import_id, number);

ALTER TABLE ONLY public.imports_refusedrow
    ADD CONSTRAINT one_refusal_per_row UNIQUE (file_import_id, number);

ALTER TABLE ONLY public.mail_returned
    ADD CONSTRAINT one_returned_each UNIQUE (workspace_id, key);

ALTER TABLE ONLY public.sequences_run
    ADD CONSTRAINT one_run_per_entry UNIQUE (sequence_id, subscriber_id, number);

ALTER TABLE ONLY public.mail_send
    ADD CONSTRAINT one_send_per_origin UNIQUE (workspace_id, origin);

ALTER TABLE ONLY public.mail_sendingdomain
    ADD CONSTRAINT one_sending_domain UNIQUE (workspace_id, domain);

ALTER TABLE ONLY public.services_service
    ADD CONSTRAINT one_service_per_name UNIQUE (workspace_id, folded);

ALTER TABLE ONLY public.submissions_submission
    ADD CONSTRAINT one_submission_per_key UNIQUE (source_id, idempotency_key);

ALTER TABLE ONLY public.people_subscriber
    ADD CONSTRAINT one_subscriber_per_address UNIQUE (workspace_id, address_key);

ALTER TABLE ONLY public.people_suppression
    ADD CONSTRAINT one_suppression_per_key UNIQUE (workspace_id, key);

ALTER TABLE ONLY public.people_tag
    ADD CONSTRAINT one_tag_per_name UNIQUE (workspace_id, folded);

ALTER TABLE ONLY public.people_tagging
    ADD CONSTRAINT one_tagging_each UNIQUE (subscriber_id, tag_id);

ALTER TABLE ONLY public.sequences_visit
    ADD CONSTRAINT one_visit_per_lap UNIQUE (run_id, step, lap);

ALTER TABLE ONLY public.doors_doorwatch
    ADD CONSTRAINT one_watch_per_door UNIQUE (sequence_id, door);

ALTER TABLE ONLY public.people_erased
    ADD CONSTRAINT people_erased_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.people_evidence
    ADD CONSTRAINT people_evidence_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.people_evidencereleased
    ADD CONSTRAINT people_evidencereleased_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.people_fact
    ADD CONSTRAINT people_fact_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.people_fact_rest
    ADD CONSTRAINT people_fact_rest_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.people_field
    ADD CONSTRAINT people_field_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.people_formeraddress
    ADD CONSTRAINT people_formeraddress_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.people_frozengroup
    ADD CONSTRAINT people_frozengroup_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.people_frozenmember
    ADD CONSTRAINT people_frozenmember_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.people_mailinglist
    ADD CONSTRAINT people_mailinglist_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.people_membership
    ADD CONSTRAINT people_membership_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.people_mention
    ADD CONSTRAINT people_mention_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.people_merge
    ADD CONSTRAINT people_merge_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.people_ownrequest
    ADD CONSTRAINT people_ownrequest_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.people_subscriber
    ADD CONSTRAINT people_subscriber_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.people_suppression
    ADD CONSTRAINT people_suppression_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.people_tag
    ADD CONSTRAINT people_tag_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.people_tagging
    ADD CONSTRAINT people_tagging_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.people_task
    ADD CONSTRAINT people_task_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.procrastinate_events
    ADD CONSTRAINT procrastinate_events_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.procrastinate_jobs
    ADD CONSTRAINT procrastinate_jobs_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.procrastinate_periodic_defers
    ADD CONSTRAINT procrastinate_periodic_defers_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.procrastinate_periodic_defers
    ADD CONSTRAINT procrastinate_periodic_defers_unique UNIQUE (task_name, periodic_id, defer_timestamp);

ALTER TABLE ONLY public.procrastinate_workers
    ADD CONSTRAINT procrastinate_workers_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.replays_replay
    ADD CONSTRAINT replays_replay_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.replays_replayline
    ADD CONSTRAINT replays_replayline_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.doors_doorseen
    ADD CONSTRAINT seen_once_a_day UNIQUE (watch_id, subscriber_id, day);

ALTER TABLE ONLY public.sequences_forecast
    ADD CONSTRAINT sequences_forecast_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.sequences_forecast
    ADD CONSTRAINT sequences_forecast_workspace_id_key UNIQUE (workspace_id);

ALTER TABLE ONLY public.sequences_forecastperson
    ADD CONSTRAINT sequences_forecastperson_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.sequences_forecastperson
    ADD CONSTRAINT sequences_forecastperson_subscriber_id_key UNIQUE (subscriber_id);

ALTER TABLE ONLY public.sequences_run
    ADD CONSTRAINT sequences_run_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.sequences_sequence
    ADD CONSTRAINT sequences_sequence_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.sequences_sequencerevision
    ADD CONSTRAINT sequences_sequencerevision_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.sequences_signal
    ADD CONSTRAINT sequences_signal_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.sequences_visit
    ADD CONSTRAINT sequences_visit_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.services_attempt
    ADD CONSTRAINT services_attempt_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.services_handoff
    ADD CONSTRAINT services_handoff_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.services_heard
    ADD CONSTRAINT services_heard_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.services_plan
    ADD CONSTRAINT services_plan_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.services_service
    ADD CONSTRAINT services_service_hear_key_key UNIQUE (hear_key);

ALTER TABLE ONLY public.services_service
    ADD CONSTRAINT services_service_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.snags_snag
    ADD CONSTRAINT snags_snag_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.sources_routerevision
    ADD CONSTRAINT sources_routerevision_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.sources_source
    ADD CONSTRAINT sources_source_key_key UNIQUE (key);

ALTER TABLE ONLY public.sources_source
    ADD CONSTRAINT sources_source_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.sources_watch
    ADD CONSTRAINT sources_watch_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.sources_watch
    ADD CONSTRAINT sources_watch_source_id_key UNIQUE (source_id);

ALTER TABLE ONLY public.submissions_fileimport
    ADD CONSTRAINT submissions_fileimport_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.submissions_submission
    ADD CONSTRAINT submissions_submission_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.webhooks_call
    ADD CONSTRAINT webhooks_call_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.workspaces_cause
    ADD CONSTRAINT workspaces_cause_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.workspaces_historyentry
    ADD CONSTRAINT workspaces_historyentry_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.workspaces_member
    ADD CONSTRAINT workspaces_member_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.workspaces_user
    ADD CONSTRAINT workspaces_user_email_key UNIQUE (email);

ALTER TABLE ONLY public.workspaces_user_groups
    ADD CONSTRAINT workspaces_user_groups_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.workspaces_user_groups
    ADD CONSTRAINT workspaces_user_groups_user_id_group_id_0b58b092_uniq UNIQUE (user_id, group_id);

ALTER TABLE ONLY public.workspaces_user
    ADD CONSTRAINT workspaces_user_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.workspaces_user_user_permissions
    ADD CONSTRAINT workspaces_user_user_per_user_id_permission_id_09b3821a_uniq UNIQUE (user_id, permission_id);

ALTER TABLE ONLY public.workspaces_user_user_permissions
    ADD CONSTRAINT workspaces_user_user_permissions_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.workspaces_workspace
    ADD CONSTRAINT workspaces_workspace_pkey PRIMARY KEY (id);

ALTER TABLE ONLY public.workspaces_workspace
    ADD CONSTRAINT workspaces_workspace_slug_key UNIQUE (slug);

CREATE INDEX audience_by_name ON public.audiences_audience USING btree (workspace_id, name);

CREATE INDEX audiences_audience_workspace_id_cc5823b7 ON public.audiences_audience USING btree (workspace_id);

CREATE INDEX audiences_audiencerevision_audience_id_e7ef6fd4 ON public.audiences_audiencerevision USING btree (audience_id);

CREATE INDEX audiences_audiencerevision_author_id_27e99e01 ON public.audiences_audiencerevision USING btree (author_id);

CREATE INDEX audiences_audiencerevision_workspace_id_224009d3 ON public.audiences_audiencerevision USING btree (workspace_id);

CREATE INDEX auth_group_name_a6ea08ec_like ON public.auth_group USING btree (name varchar_pattern_ops);

CREATE INDEX auth_group_permissions_group_id_b120cbf9 ON public.auth_group_permissions USING btree (group_id);

CREATE INDEX auth_group_permissions_permission_id_84c5c92e ON public.auth_group_permissions USING btree (permission_id);

CREATE INDEX auth_permission_content_type_id_2f476e4b ON public.auth_permission USING btree (content_type_id);

CREATE INDEX axes_accessattempt_ip_address_10922d9c ON public.axes_accessattempt USING btree (ip_address);

CREATE INDEX axes_accessattempt_user_agent_ad89678b ON public.axes_accessattempt USING btree (user_agent);

CREATE INDEX axes_accessattempt_user_agent_ad89678b_like ON public.axes_accessattempt USING btree (user_agent varchar_pattern_ops);

CREATE INDEX axes_accessattempt_username_3f2d4ca0 ON public.axes_accessattempt USING btree (username);

CREATE INDEX axes_accessattempt_username_3f2d4ca0_like ON public.axes_accessattempt USING btree (username varchar_pattern_ops);

CREATE INDEX axes_accessfailurelog_ip_address_2e9f5a7f ON public.axes_accessfailurelog USING btree (ip_address);

CREATE INDEX axes_accessfailurelog_user_agent_ea145dda ON public.axes_accessfailurelog USING btree (user_agent);

CREATE INDEX axes_accessfailurelog_user_agent_ea145dda_like ON public.axes_accessfailurelog USING btree (user_agent varchar_pattern_ops);

CREATE INDEX axes_accessfailurelog_username_a8b7e8a4 ON public.axes_accessfailurelog USING btree (username);

CREATE INDEX axes_accessfailurelog_username_a8b7e8a4_like ON public.axes_accessfailurelog USING btree (username varchar_pattern_ops);

CREATE INDEX axes_accesslog_ip_address_86b417e5 ON public.axes_accesslog USING btree (ip_address);

CREATE INDEX axes_accesslog_user_agent_0e659004 ON public.axes_accesslog USING btree (user_agent);

CREATE INDEX axes_accesslog_user_agent_0e659004_like ON public.axes_accesslog USING btree (user_agent varchar_pattern_ops);

CREATE INDEX axes_accesslog_username_df93064b ON public.axes_accesslog USING btree (username);

CREATE INDEX axes_accesslog_username_df93064b_like ON public.axes_accesslog USING btree (username varchar_pattern_ops);

CREATE INDEX broadcast_by_name ON public.broadcasts_broadcast USING btree (workspace_id, name);

CREATE INDEX broadcast_going ON public.broadcasts_broadcast USING btree (workspace_id, begins_at) WHERE (NOT ((state)::text = ANY ((ARRAY['draft'::character varying, 'asked'::character varying, 'done'::character varying, 'stopped'::character varying])::text[])));

CREATE INDEX broadcasts_broadcast_approved_by_id_f3345831 ON public.broadcasts_broadcast USING btree (approved_by_id);

CREATE INDEX broadcasts_broadcast_asked_by_id_b5b23c80 ON public.broadcasts_broadcast USING btree (asked_by_id);

CREATE INDEX broadcasts_broadcast_page_key_6aa700f2_like ON public.broadcasts_broadcast USING btree (page_key varchar_pattern_ops);

CREATE INDEX broadcasts_broadcast_set_off_by_id_a78f423c ON public.broadcasts_broadcast USING btree (set_off_by_id);

CREATE INDEX broadcasts_broadcast_workspace_id_2b94b23d ON public.broadcasts_broadcast USING btree (workspace_id);

CREATE INDEX broadcasts_broadcastrevision_author_id_cb2ab409 ON public.broadcasts_broadcastrevision USING btree (author_id);

CREATE INDEX broadcasts_broadcastrevision_broadcast_id_261e5e1f ON public.broadcasts_broadcastrevision USING btree (broadcast_id);

CREATE INDEX broadcasts_broadcastrevision_workspace_id_6738c8fa ON public.broadcasts_broadcastrevision USING btree (workspace_id);

CREATE INDEX call_newest ON public.webhooks_call USING btree (source_id, at DESC, id DESC);

CREATE INDEX django_session_expire_date_a5c62663 ON public.django_session USING btree (expire_date);

CREATE INDEX django_session_session_key_c0390e0f_like ON public.django_session USING btree (session_key varchar_pattern_ops);

CREATE INDEX doors_admission_member_id_a2b7d0a7 ON public.doors_admission USING btree (member_id);

CREATE INDEX doors_admission_sequence_id_db90fd8d ON public.doors_admission USING btree (sequence_id);

CREATE INDEX doors_admission_workspace_id_83d89471 ON public.doors_admission USING btree (workspace_id);

CREATE INDEX doors_doorheld_subscriber_id_1078a974 ON public.doors_doorheld USING btree (subscriber_id);

CREATE INDEX doors_doorseen_subscriber_id_dd0d1e17 ON public.doors_doorseen USING btree (subscriber_id);

CREATE INDEX doors_doorwatch_sequence_id_fae82739 ON public.doors_doorwatch USING btree (sequence_id);

CREATE INDEX doors_doorwatch_workspace_id_661407a6 ON public.doors_doorwatch USING btree (workspace_id);

CREATE INDEX file_newest ON public.mail_storedfile USING btree (workspace_id, added_at DESC);

CREATE INDEX forecast_most ON public.sequences_forecastperson USING btree (workspace_id, emails DESC);

CREATE INDEX former_by_key ON public.people_formeraddress USING btree (workspace_id, key);

CREATE INDEX forms_picture_workspace_id_64effa1f ON public.forms_picture USING btree (workspace_id);

CREATE INDEX handoff_answers ON public.services_handoff USING btree (workspace_id, created_at) WHERE (NOT (answers = '[]'::jsonb));

CREATE INDEX handoff_consent ON public.services_handoff USING btree (created_at) WHERE ((state)::text = 'consent'::text);

CREATE INDEX handoff_failed ON public.services_handoff USING btree (service_id, fault) WHERE ((state)::text = 'failed'::text);

CREATE INDEX handoff_newest ON public.services_handoff USING btree (service_id, id DESC);

CREATE INDEX handoff_of_person ON public.services_handoff USING btree (subscriber_id, service_id, id);

CREATE INDEX handoff_of_submission ON public.services_handoff USING btree (by_submission);

CREATE INDEX handoff_sending ON public.services_handoff USING btree (worker) WHERE ((state)::text = 'sending'::text);

CREATE INDEX handoff_waiting ON public.services_handoff USING btree (service_id, due_at, id) WHERE ((state)::text = 'waiting'::text);

CREATE INDEX handoff_with_address ON public.services_handoff USING btree (workspace_id) WHERE (NOT ((address)::text = ''::text));

CREATE INDEX happened ON ONLY public.people_fact USING btree (subscriber_id, kind, about, at) WHERE (((kind)::text = ANY ((ARRAY['submitted'::character varying, 'sent'::character varying, 'event'::character varying, 'opened'::character varying, 'clicked'::character varying])::text[])) OR (((about)::text > ''::text) AND ((kind)::text = 'membership'::text)));

CREATE INDEX heard_about ON public.services_heard USING btree (workspace_id, address_key) WHERE (NOT ((address_key)::text = ''::text));

CREATE INDEX heard_newest ON public.services_heard USING btree (service_id, id DESC);

CREATE INDEX heard_of_person ON public.services_heard USING btree (subscriber_id);

CREATE INDEX heard_refused ON public.services_heard USING btree (service_id, id DESC) WHERE ((state)::text = 'refused'::text);

CREATE INDEX heard_waiting ON public.services_heard USING btree (workspace_id, id) WHERE ((state)::text = 'waiting'::text);

CREATE INDEX history_newest ON public.workspaces_historyentry USING btree (workspace_id, at DESC, id DESC);

CREATE INDEX idx_procrastinate_jobs_worker_not_null ON public.procrastinate_jobs USING btree (worker_id) WHERE ((worker_id IS NOT NULL) AND (status = 'doing'::public.procrastinate_job_status));

CREATE INDEX idx_procrastinate_workers_last_heartbeat ON public.procrastinate_workers USING btree (last_heartbeat);

CREATE INDEX import_newest ON public.submissions_fileimport USING btree (source_id, created_at DESC);

CREATE INDEX imports_filepart_file_import_id_2ff825f8 ON public.imports_filepart USING btree (file_import_id);

CREATE INDEX imports_filepart_workspace_id_333da703 ON public.imports_filepart USING btree (workspace_id);

CREATE INDEX imports_refusedrow_file_import_id_742f7ddf ON public.imports_refusedrow USING btree (file_import_id);

CREATE INDEX imports_refusedrow_workspace_id_837779a9 ON public.imports_refusedrow USING btree (workspace_id);

CREATE INDEX mail_broadcastpause_workspace_id_bd8c26c9 ON public.mail_broadcastpause USING btree (workspace_id);

CREATE INDEX mail_librarypicture_key_b7e5e45b_like ON public.mail_librarypicture USING btree (key varchar_pattern_ops);

CREATE INDEX mail_librarypicture_member_id_cdd9969b ON public.mail_librarypicture USING btree (member_id);

CREATE INDEX mail_librarypicture_workspace_id_77f50248 ON public.mail_librarypicture USING btree (workspace_id);

CREATE INDEX mail_listmail_asking_id_65d9200c ON public.mail_listmail USING btree (asking_id);

CREATE INDEX mail_listmail_welcome_id_a6c2d74e ON public.mail_listmail USING btree (welcome_id);

CREATE INDEX mail_listmail_workspace_id_7ac1753b ON public.mail_listmail USING btree (workspace_id);

CREATE INDEX mail_message_workspace_id_2936e75c ON public.mail_message USING btree (workspace_id);

CREATE INDEX mail_messagefile_file_id_b211db49 ON public.mail_messagefile USING btree (file_id);

CREATE INDEX mail_messagefile_message_id_44fdb637 ON public.mail_messagefile USING btree (message_id);

CREATE INDEX mail_messagefile_workspace_id_f22ad9d1 ON public.mail_messagefile USING btree (workspace_id);

CREATE INDEX mail_messagerevision_author_id_f82fc565 ON public.mail_messagerevision USING btree (author_id);

CREATE INDEX mail_messagerevision_message_id_74a539df ON public.mail_messagerevision USING btree (message_id);

CREATE INDEX mail_messagerevision_workspace_id_eeeb6417 ON public.mail_messagerevision USING btree (workspace_id);

CREATE INDEX mail_returned_send_id_e543798c ON public.mail_returned USING btree (send_id);

CREATE INDEX mail_returned_subscriber_id_6a4ee922 ON public.mail_returned USING btree (subscriber_id);

CREATE INDEX mail_returned_workspace_id_d23b4958 ON public.mail_returned USING btree (workspace_id);

CREATE INDEX mail_send_list_id_cdf20172 ON public.mail_send USING btree (list_id);

CREATE INDEX mail_send_message_id_bd9d58a4 ON public.mail_send USING btree (message_id);

CREATE INDEX mail_send_revision_id_82b1f6de ON public.mail_send USING btree (revision_id);

CREATE INDEX mail_send_snag_id_5f63b608 ON public.mail_send USING btree (snag_id);

CREATE INDEX mail_send_subscriber_id_7a69a7ec ON public.mail_send USING btree (subscriber_id);

CREATE INDEX mail_sendingdomain_workspace_id_5c55231f ON public.mail_sendingdomain USING btree (workspace_id);

CREATE INDEX mail_sendinghold_snag_id_3899b277 ON public.mail_sendinghold USING btree (snag_id);

CREATE INDEX mail_sendinghold_workspace_id_48e70a09 ON public.mail_sendinghold USING btree (workspace_id);

CREATE INDEX mail_storedfile_member_id_54286e06 ON public.mail_storedfile USING btree (member_id);

CREATE INDEX mail_storedfile_workspace_id_dc393654 ON public.mail_storedfile USING btree (workspace_id);

CREATE INDEX mail_touch_send_id_9f7d5579 ON public.mail_touch USING btree (send_id);

CREATE INDEX membership_by_list ON public.people_membership USING btree (workspace_id, list_id, state);

CREATE INDEX merge_newest ON public.people_merge USING btree (workspace_id, at DESC);

CREATE INDEX message_by_name ON public.mail_message USING btree (workspace_id, name);

CREATE UNIQUE INDEX one_draft_per_audience ON public.audiences_audiencerevision USING btree (audience_id) WHERE ((state)::text = 'draft'::text);

CREATE UNIQUE INDEX one_draft_per_broadcast ON public.broadcasts_broadcastrevision USING btree (broadcast_id) WHERE ((state)::text = 'draft'::text);

CREATE UNIQUE INDEX one_draft_per_message ON public.mail_messagerevision USING btree (message_id) WHERE ((state)::text = 'draft'::text);

CREATE UNIQUE INDEX one_draft_per_sequence ON public.sequences_sequencerevision USING btree (sequence_id) WHERE ((state)::text = 'draft'::text);

CREATE UNIQUE INDEX one_draft_per_source ON public.sources_routerevision USING btree (source_id) WHERE ((state)::text = 'draft'::text);

CREATE UNIQUE INDEX one_live_per_audience ON public.audiences_audiencerevision USING btree (audience_id) WHERE ((state)::text = 'live'::text);

CREATE UNIQUE INDEX one_live_per_broadcast ON public.broadcasts_broadcastrevision USING btree (broadcast_id) WHERE ((state)::text = 'live'::text);

CREATE UNIQUE INDEX one_live_per_message ON public.mail_messagerevision USING btree (message_id) WHERE ((state)::text = 'live'::text);

CREATE UNIQUE INDEX one_live_per_sequence ON public.sequences_sequencerevision USING btree (sequence_id) WHERE ((state)::text = 'live'::text);

CREATE UNIQUE INDEX one_live_per_source ON public.sources_routerevision USING btree (source_id) WHERE ((state)::text = 'live'::text);

CREATE UNIQUE INDEX one_open_snag_per_cause ON public.snags_snag USING btree (workspace_id, cause) WHERE (closed_at IS NULL);

CREATE INDEX own_request ON public.people_ownrequest USING btree (subscriber_id, kind, asked_at DESC);

CREATE INDEX people_erased_workspace_id_0745a87a ON public.people_erased USING btree (workspace_id);

CREATE INDEX people_evidence_membership_id_45662fd9 ON public.people_evidence USING btree (membership_id);

CREATE INDEX people_evidencereleased_workspace_id_b53b6353 ON public.people_evidencereleased USING btree (workspace_id);

CREATE INDEX trail ON ONLY public.people_fact USING btree (subscriber_id, at DESC, id DESC);

CREATE INDEX people_fact_rest_subscriber_id_at_id_idx ON public.people_fact_rest USING btree (subscriber_id, at DESC, id DESC);

CREATE INDEX people_fact_rest_subscriber_id_kind_about_at_idx ON public.people_fact_rest USING btree (subscriber_id, kind, about, at) WHERE (((kind)::text = ANY ((ARRAY['submitted'::character varying, 'sent'::character varying, 'event'::character varying, 'opened'::character varying, 'clicked'::character varying])::text[])) OR (((about)::text > ''::text) AND ((kind)::text = 'membership'::text)));

CREATE INDEX people_field_key_636b8b92 ON public.people_field USING btree (key);

CREATE INDEX people_field_key_636b8b92_like ON public.people_field USING btree (key varchar_pattern_ops);

CREATE INDEX people_field_workspace_id_1b1264cb ON public.people_field USING btree (workspace_id);

CREATE INDEX people_formeraddress_subscriber_id_0f7a0b72 ON public.people_formeraddress USING btree (subscriber_id);

CREATE INDEX people_frozengroup_made_by_id_7ef8fd22 ON public.people_frozengroup USING btree (made_by_id);

CREATE INDEX people_frozengroup_workspace_id_158545af ON public.people_frozengroup USING btree (workspace_id);

CREATE INDEX people_frozenmember_group_id_07e6233b ON public.people_frozenmember USING btree (group_id);

CREATE INDEX people_mailinglist_workspace_id_04cab848 ON public.people_mailinglist USING btree (workspace_id);

CREATE INDEX people_membership_list_id_474b3115 ON public.people_membership USING btree (list_id);

CREATE INDEX people_merge_kept_id_d4ee6e06 ON public.people_merge USING btree (kept_id);

CREATE INDEX people_merge_workspace_id_51955580 ON public.people_merge USING btree (workspace_id);

CREATE INDEX people_ownrequest_subscriber_id_ef320ce1 ON public.people_ownrequest USING btree (subscriber_id);

CREATE INDEX people_ownrequest_workspace_id_dfd46a1c ON public.people_ownrequest USING btree (workspace_id);

CREATE INDEX people_subscriber_owner_id_e19eb064 ON public.people_subscriber USING btree (owner_id);

CREATE INDEX people_suppression_member_id_ae66cc59 ON public.people_suppression USING btree (member_id);

CREATE INDEX people_suppression_workspace_id_03ba84ca ON public.people_suppression USING btree (workspace_id);

CREATE INDEX people_tag_workspace_id_9c9346c3 ON public.people_tag USING btree (workspace_id);

CREATE INDEX people_tagging_tag_id_271d4129 ON public.people_tagging USING btree (tag_id);

CREATE INDEX people_task_member_id_563bbf2b ON public.people_task USING btree (member_id);

CREATE INDEX people_task_subscriber_id_191775e6 ON public.people_task USING btree (subscriber_id);

CREATE INDEX people_task_workspace_id_9c37bb3e ON public.people_task USING btree (workspace_id);

CREATE INDEX picture_newest ON public.mail_librarypicture USING btree (workspace_id, added_at DESC);

CREATE INDEX procrastinate_events_job_id_fkey_v1 ON public.procrastinate_events USING btree (job_id);

CREATE INDEX procrastinate_jobs_id_lock_idx_v1 ON public.procrastinate_jobs USING btree (id, lock) WHERE (status = ANY (ARRAY['todo'::public.procrastinate_job_status, 'doing'::public.procrastinate_job_status]));

CREATE UNIQUE INDEX procrastinate_jobs_lock_idx_v1 ON public.procrastinate_jobs USING btree (lock) WHERE (status = 'doing'::public.procrastinate_job_status);

CREATE INDEX procrastinate_jobs_priority_idx_v1 ON public.procrastinate_jobs USING btree (priority DESC, id) WHERE (status = 'todo'::public.procrastinate_job_status);

CREATE INDEX procrastinate_jobs_queue_name_idx_v1 ON public.procrastinate_jobs USING btree (queue_name);

CREATE UNIQUE INDEX procrastinate_jobs_queueing_lock_idx_v1 ON public.procrastinate_jobs USING btree (queueing_lock) WHERE (status = 'todo'::public.procrastinate_job_status);

CREATE INDEX procrastinate_periodic_defers_job_id_fkey_v1 ON public.procrastinate_periodic_defers USING btree (job_id);

CREATE INDEX replay_newest ON public.replays_replay USING btree (source_id, created_at DESC);

CREATE INDEX replays_replay_member_id_72ef9066 ON public.replays_replay USING btree (member_id);

CREATE INDEX replays_replay_revision_id_84e3ecfe ON public.replays_replay USING btree (revision_id);

CREATE INDEX replays_replay_source_id_748438a5 ON public.replays_replay USING btree (source_id);

CREATE INDEX replays_replay_workspace_id_69e745da ON public.replays_replay USING btree (workspace_id);

CREATE INDEX replays_replayline_replay_id_5e724788 ON public.replays_replayline USING btree (replay_id);

CREATE INDEX replays_replayline_subscriber_id_699ee920 ON public.replays_replayline USING btree (subscriber_id);

CREATE INDEX replays_replayline_workspace_id_2e31f6e0 ON public.replays_replayline USING btree (workspace_id);

CREATE INDEX returned_newest ON public.mail_returned USING btree (workspace_id, at DESC, id DESC);

CREATE INDEX run_answers ON public.sequences_run USING btree (workspace_id, entered_at) WHERE (NOT (answers = '[]'::jsonb));

CREATE INDEX run_by_step ON public.sequences_run USING btree (sequence_id, step);

CREATE INDEX run_due ON public.sequences_run USING btree (workspace_id, due_at) WHERE (ended_at IS NULL);

CREATE INDEX run_ended ON public.sequences_run USING btree (workspace_id, ended_at) WHERE (ended_at IS NOT NULL);

CREATE INDEX run_entered ON public.sequences_run USING brin (entered_at);

CREATE INDEX seen_by_day ON public.doors_doorseen USING btree (watch_id, day);

CREATE INDEX send_answers ON public.mail_send USING btree (workspace_id, queued_at) WHERE (NOT (answers = '[]'::jsonb));

CREATE INDEX send_by_broadcast ON public.mail_send USING btree (broadcast, state) WHERE (broadcast IS NOT NULL);

CREATE INDEX send_by_message ON public.mail_send USING btree (message_id, sent_at);

CREATE INDEX send_by_state ON public.mail_send USING btree (workspace_id, state, queued_at);

CREATE INDEX send_by_step ON public.mail_send USING btree (sequence, step, state) WHERE (sequence IS NOT NULL);

CREATE INDEX send_due ON public.mail_send USING btree (workspace_id, asked_for DESC, ((broadcast IS NOT NULL)), queued_at) WHERE ((state)::text = 'queued'::text);

CREATE INDEX send_holds ON public.mail_send USING btree (holds) WHERE ((state)::text = 'held'::text);

CREATE INDEX send_open ON public.mail_send USING btree (queued_at) WHERE ((state)::text = 'handing_over'::text);

CREATE INDEX send_was_held ON public.mail_send USING btree (holds) WHERE was_held;

CREATE INDEX sequences_run_revision_id_e1a113ba ON public.sequences_run USING btree (revision_id);

CREATE INDEX sequences_run_snag_id_1f22eaec ON public.sequences_run USING btree (snag_id);

CREATE INDEX sequences_run_subscriber_id_cfaeb0db ON public.sequences_run USING btree (subscriber_id);

CREATE INDEX sequences_sequence_workspace_id_5ff7a78d ON public.sequences_sequence USING btree (workspace_id);

CREATE INDEX sequences_sequencerevision_author_id_16e64337 ON public.sequences_sequencerevision USING btree (author_id);

CREATE INDEX sequences_sequencerevision_sequence_id_26be5643 ON public.sequences_sequencerevision USING btree (sequence_id);

CREATE INDEX sequences_sequencerevision_workspace_id_e08a17e7 ON public.sequences_sequencerevision USING btree (workspace_id);

CREATE INDEX sequences_signal_workspace_id_08662d54 ON public.sequences_signal USING btree (workspace_id);

CREATE INDEX services_attempt_at_2f4755a2 ON public.services_attempt USING btree (at);

CREATE INDEX services_attempt_handoff_id_16ef9042 ON public.services_attempt USING btree (handoff_id);

CREATE INDEX services_heard_service_id_4672413d ON public.services_heard USING btree (service_id);

CREATE INDEX services_plan_workspace_id_c7a05454 ON public.services_plan USING btree (workspace_id);

CREATE INDEX services_service_hear_key_9132b359_like ON public.services_service USING btree (hear_key varchar_pattern_ops);

CREATE INDEX services_service_list_id_3b00b723 ON public.services_service USING btree (list_id);

CREATE INDEX services_service_workspace_id_359c725d ON public.services_service USING btree (workspace_id);

CREATE INDEX signal_in_order ON public.sequences_signal USING btree (workspace_id, id);

CREATE INDEX snag_open ON public.snags_snag USING btree (workspace_id, closed_at, last_at);

CREATE INDEX snags_snag_workspace_id_8c189509 ON public.snags_snag USING btree (workspace_id);

CREATE INDEX sources_routerevision_author_id_62599f7f ON public.sources_routerevision USING btree (author_id);

CREATE INDEX sources_routerevision_source_id_abc85c99 ON public.sources_routerevision USING btree (source_id);

CREATE INDEX sources_routerevision_workspace_id_ea989c06 ON public.sources_routerevision USING btree (workspace_id);

CREATE INDEX sources_source_key_1aa01dda_like ON public.sources_source USING btree (key varchar_pattern_ops);

CREATE INDEX sources_source_workspace_id_ec59290f ON public.sources_source USING btree (workspace_id);

CREATE INDEX sources_watch_workspace_id_acc6b28b ON public.sources_watch USING btree (workspace_id);

CREATE INDEX submission_answers ON public.submissions_submission USING gin (upper((answers)::text) public.gin_trgm_ops);

CREATE INDEX submission_attention ON public.submissions_submission USING btree (workspace_id, received_at) WHERE ((state)::text = ANY ((ARRAY['held'::character varying, 'stuck'::character varying])::text[]));

CREATE INDEX submission_by_person ON public.submissions_submission USING btree (workspace_id, person_key, received_at) WHERE ((subscriber_id IS NULL) AND (NOT ((person_key)::text = ''::text)));

CREATE INDEX submission_by_source ON public.submissions_submission USING btree (source_id, received_at DESC, id DESC);

CREATE INDEX submission_by_visitor ON public.submissions_submission USING btree (source_id, visitor, received_at) WHERE (NOT ((visitor)::text = ''::text));

CREATE INDEX submission_newest ON public.submissions_submission USING btree (workspace_id, received_at DESC, id DESC);

CREATE INDEX submission_to_forget ON public.submissions_submission USING btree (workspace_id, received_at) WHERE (forgotten_at IS NULL);

CREATE INDEX submission_waiting ON public.submissions_submission USING btree (source_id, received_at) WHERE ((state)::text = 'received'::text);

CREATE INDEX submissions_fileimport_member_id_0b26936f ON public.submissions_fileimport USING btree (member_id);

CREATE INDEX submissions_fileimport_source_id_49811df2 ON public.submissions_fileimport USING btree (source_id);

CREATE INDEX submissions_fileimport_workspace_id_a7f8c496 ON public.submissions_fileimport USING btree (workspace_id);

CREATE INDEX submissions_submission_file_import_id_02555b7f ON public.submissions_submission USING btree (file_import_id);

CREATE INDEX submissions_submission_snag_id_121b6f57 ON public.submissions_submission USING btree (snag_id);

CREATE INDEX submissions_submission_subscriber_id_ccf313ba ON public.submissions_submission USING btree (subscriber_id);

CREATE INDEX subscriber_newest ON public.people_subscriber USING btree (workspace_id, added_at DESC, id DESC);

CREATE INDEX subscriber_search ON public.people_subscriber USING gin (searched public.gin_trgm_ops);

CREATE INDEX subscriber_values ON public.people_subscriber USING gin ("values" jsonb_path_ops);

CREATE INDEX suppression_newest ON public.people_suppression USING btree (workspace_id, added_at DESC, id DESC);

CREATE INDEX tagging_by_tag ON public.people_tagging USING btree (workspace_id, tag_id);

CREATE INDEX task_open ON public.people_task USING btree (workspace_id, due_at) WHERE (done_at IS NULL);

CREATE INDEX touch_newest ON public.mail_touch USING btree (workspace_id, at DESC, id DESC);

CREATE INDEX touch_open ON public.mail_touch USING btree (at) WHERE ((by)::text = ''::text);

CREATE INDEX visit_by_step ON public.sequences_visit USING btree (sequence_id, step);

CREATE INDEX watch_due ON public.sources_watch USING btree (next_at);

CREATE INDEX webhooks_call_source_id_517027c5 ON public.webhooks_call USING btree (source_id);

CREATE INDEX webhooks_call_submission_id_3349306e ON public.webhooks_call USING btree (submission_id);

CREATE INDEX webhooks_call_workspace_id_c7cb263f ON public.webhooks_call USING btree (workspace_id);

CREATE INDEX workspaces_cause_workspace_id_2befb0c1 ON public.workspaces_cause USING btree (workspace_id);

CREATE INDEX workspaces_historyentry_member_id_6a334824 ON public.workspaces_historyentry USING btree (member_id);

CREATE INDEX workspaces_historyentry_workspace_id_9e946aa3 ON public.workspaces_historyentry USING btree (workspace_id);

CREATE INDEX workspaces_member_user_id_5cbd3867 ON public.workspaces_member USING btree (user_id);

CREATE INDEX workspaces_member_workspace_id_675b8450 ON public.workspaces_member USING btree (workspace_id);

CREATE INDEX workspaces_user_email_b817d139_like ON public.workspaces_user USING btree (email varchar_pattern_ops);

CREATE INDEX workspaces_user_groups_group_id_b23d60db ON public.workspaces_user_groups USING btree (group_id);

CREATE INDEX workspaces_user_groups_user_id_4ba6664c ON public.workspaces_user_groups USING btree (user_id);

CREATE INDEX workspaces_user_user_permissions_permission_id_838e521f ON public.workspaces_user_user_permissions USING btree (permission_id);

CREATE INDEX workspaces_user_user_permissions_user_id_b1cea117 ON public.workspaces_user_user_permissions USING btree (user_id);

CREATE INDEX workspaces_workspace_slug_c37054a2_like ON public.workspaces_workspace USING btree (slug varchar_pattern_ops);

ALTER INDEX public.people_fact_pkey ATTACH PARTITION public.people_fact_rest_pkey;

ALTER INDEX public.trail ATTACH PARTITION public.people_fact_rest_subscriber_id_at_id_idx;

ALTER INDEX public.happened ATTACH PARTITION public.people_fact_rest_subscriber_id_kind_about_at_idx;

CREATE TRIGGER announces_delete AFTER DELETE ON public.audiences_audiencerevision REFERENCING OLD TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('drafts');

CREATE TRIGGER announces_delete AFTER DELETE ON public.broadcasts_broadcast REFERENCING OLD TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('broadcasts');

CREATE TRIGGER announces_delete AFTER DELETE ON public.broadcasts_broadcastrevision REFERENCING OLD TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('drafts');

CREATE TRIGGER announces_delete AFTER DELETE ON public.doors_admission REFERENCING OLD TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('runs');

CREATE TRIGGER announces_delete AFTER DELETE ON public.mail_messagerevision REFERENCING OLD TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('drafts');

CREATE TRIGGER announces_delete AFTER DELETE ON public.mail_returned REFERENCING OLD TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('mail');

CREATE TRIGGER announces_delete AFTER DELETE ON public.mail_send REFERENCING OLD TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('mail');

CREATE TRIGGER announces_delete AFTER DELETE ON public.mail_sendingdomain REFERENCING OLD TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('mail');

CREATE TRIGGER announces_delete AFTER DELETE ON public.mail_sendinghold REFERENCING OLD TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('mail');

CREATE TRIGGER announces_delete AFTER DELETE ON public.mail_touch REFERENCING OLD TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('mail');

CREATE TRIGGER announces_delete AFTER DELETE ON public.people_membership REFERENCING OLD TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('people');

CREATE TRIGGER announces_delete AFTER DELETE ON public.people_subscriber REFERENCING OLD TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('people');

CREATE TRIGGER announces_delete AFTER DELETE ON public.people_suppression REFERENCING OLD TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('people');

CREATE TRIGGER announces_delete AFTER DELETE ON public.people_task REFERENCING OLD TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('people');

CREATE TRIGGER announces_delete AFTER DELETE ON public.replays_replay REFERENCING OLD TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('replays');

CREATE TRIGGER announces_delete AFTER DELETE ON public.sequences_forecast REFERENCING OLD TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('runs');

CREATE TRIGGER announces_delete AFTER DELETE ON public.sequences_run REFERENCING OLD TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('runs');

CREATE TRIGGER announces_delete AFTER DELETE ON public.sequences_sequencerevision REFERENCING OLD TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('drafts');

CREATE TRIGGER announces_delete AFTER DELETE ON public.services_handoff REFERENCING OLD TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('services');

CREATE TRIGGER announces_delete AFTER DELETE ON public.services_heard REFERENCING OLD TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('services');

CREATE TRIGGER announces_delete AFTER DELETE ON public.services_service REFERENCING OLD TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('services');

CREATE TRIGGER announces_delete AFTER DELETE ON public.snags_snag REFERENCING OLD TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('snags');

CREATE TRIGGER announces_delete AFTER DELETE ON public.sources_routerevision REFERENCING OLD TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('drafts');

CREATE TRIGGER announces_delete AFTER DELETE ON public.sources_watch REFERENCING OLD TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('files');

CREATE TRIGGER announces_delete AFTER DELETE ON public.submissions_fileimport REFERENCING OLD TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('files');

CREATE TRIGGER announces_delete AFTER DELETE ON public.submissions_submission REFERENCING OLD TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('submissions');

CREATE TRIGGER announces_delete AFTER DELETE ON public.webhooks_call REFERENCING OLD TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('submissions');

CREATE TRIGGER announces_delete AFTER DELETE ON public.workspaces_member REFERENCING OLD TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('workspace');

CREATE TRIGGER announces_delete AFTER DELETE ON public.workspaces_workspace REFERENCING OLD TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce_workspace('workspace');

CREATE TRIGGER announces_insert AFTER INSERT ON public.audiences_audiencerevision REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('drafts');

CREATE TRIGGER announces_insert AFTER INSERT ON public.broadcasts_broadcast REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('broadcasts');

CREATE TRIGGER announces_insert AFTER INSERT ON public.broadcasts_broadcastrevision REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('drafts');

CREATE TRIGGER announces_insert AFTER INSERT ON public.doors_admission REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('runs');

CREATE TRIGGER announces_insert AFTER INSERT ON public.mail_messagerevision REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('drafts');

CREATE TRIGGER announces_insert AFTER INSERT ON public.mail_returned REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('mail');

CREATE TRIGGER announces_insert AFTER INSERT ON public.mail_send REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('mail');

CREATE TRIGGER announces_insert AFTER INSERT ON public.mail_sendingdomain REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('mail');

CREATE TRIGGER announces_insert AFTER INSERT ON public.mail_sendinghold REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('mail');

CREATE TRIGGER announces_insert AFTER INSERT ON public.mail_touch REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('mail');

CREATE TRIGGER announces_insert AFTER INSERT ON public.people_membership REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('people');

CREATE TRIGGER announces_insert AFTER INSERT ON public.people_suppression REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('people');

CREATE TRIGGER announces_insert AFTER INSERT ON public.people_task REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('people');

CREATE TRIGGER announces_insert AFTER INSERT ON public.replays_replay REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('replays');

CREATE TRIGGER announces_insert AFTER INSERT ON public.sequences_forecast REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('runs');

CREATE TRIGGER announces_insert AFTER INSERT ON public.sequences_run REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('runs');

CREATE TRIGGER announces_insert AFTER INSERT ON public.sequences_sequencerevision REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('drafts');

CREATE TRIGGER announces_insert AFTER INSERT ON public.services_handoff REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('services');

CREATE TRIGGER announces_insert AFTER INSERT ON public.services_heard REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('services');

CREATE TRIGGER announces_insert AFTER INSERT ON public.services_service REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('services');

CREATE TRIGGER announces_insert AFTER INSERT ON public.snags_snag REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('snags');

CREATE TRIGGER announces_insert AFTER INSERT ON public.sources_routerevision REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('drafts');

CREATE TRIGGER announces_insert AFTER INSERT ON public.sources_watch REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('files');

CREATE TRIGGER announces_insert AFTER INSERT ON public.submissions_fileimport REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('files');

CREATE TRIGGER announces_insert AFTER INSERT ON public.submissions_submission REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('submissions');

CREATE TRIGGER announces_insert AFTER INSERT ON public.webhooks_call REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('submissions');

CREATE TRIGGER announces_insert AFTER INSERT ON public.workspaces_historyentry REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('acts');

CREATE TRIGGER announces_insert AFTER INSERT ON public.workspaces_member REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('workspace');

CREATE TRIGGER announces_insert AFTER INSERT ON public.workspaces_workspace REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce_workspace('workspace');

CREATE TRIGGER announces_update AFTER UPDATE ON public.audiences_audiencerevision REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('drafts');

CREATE TRIGGER announces_update AFTER UPDATE ON public.broadcasts_broadcast REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('broadcasts');

CREATE TRIGGER announces_update AFTER UPDATE ON public.broadcasts_broadcastrevision REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('drafts');

CREATE TRIGGER announces_update AFTER UPDATE ON public.doors_admission REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('runs');

CREATE TRIGGER announces_update AFTER UPDATE ON public.mail_messagerevision REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('drafts');

CREATE TRIGGER announces_update AFTER UPDATE ON public.mail_returned REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('mail');

CREATE TRIGGER announces_update AFTER UPDATE ON public.mail_send REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('mail');

CREATE TRIGGER announces_update AFTER UPDATE ON public.mail_sendingdomain REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('mail');

CREATE TRIGGER announces_update AFTER UPDATE ON public.mail_sendinghold REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('mail');

CREATE TRIGGER announces_update AFTER UPDATE ON public.mail_touch REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('mail');

CREATE TRIGGER announces_update AFTER UPDATE ON public.people_membership REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('people');

CREATE TRIGGER announces_update AFTER UPDATE ON public.people_suppression REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('people');

CREATE TRIGGER announces_update AFTER UPDATE ON public.people_task REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('people');

CREATE TRIGGER announces_update AFTER UPDATE ON public.replays_replay REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('replays');

CREATE TRIGGER announces_update AFTER UPDATE ON public.sequences_forecast REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('runs');

CREATE TRIGGER announces_update AFTER UPDATE ON public.sequences_run REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('runs');

CREATE TRIGGER announces_update AFTER UPDATE ON public.sequences_sequencerevision REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('drafts');

CREATE TRIGGER announces_update AFTER UPDATE ON public.services_handoff REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('services');

CREATE TRIGGER announces_update AFTER UPDATE ON public.services_heard REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('services');

CREATE TRIGGER announces_update AFTER UPDATE ON public.services_service REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('services');

CREATE TRIGGER announces_update AFTER UPDATE ON public.snags_snag REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('snags');

CREATE TRIGGER announces_update AFTER UPDATE ON public.sources_routerevision REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('drafts');

CREATE TRIGGER announces_update AFTER UPDATE ON public.sources_watch REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('files');

CREATE TRIGGER announces_update AFTER UPDATE ON public.submissions_fileimport REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('files');

CREATE TRIGGER announces_update AFTER UPDATE ON public.submissions_submission REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('submissions');

CREATE TRIGGER announces_update AFTER UPDATE ON public.webhooks_call REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('submissions');

CREATE TRIGGER announces_update AFTER UPDATE ON public.workspaces_member REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce('workspace');

CREATE TRIGGER announces_update AFTER UPDATE ON public.workspaces_workspace REFERENCING NEW TABLE AS touched FOR EACH STATEMENT EXECUTE FUNCTION public.announce_workspace('workspace');

CREATE TRIGGER evidence_is_kept BEFORE DELETE OR UPDATE ON public.people_evidence FOR EACH ROW EXECUTE FUNCTION public.guard_evidence();

CREATE TRIGGER evidence_is_never_truncated BEFORE TRUNCATE ON public.people_evidence FOR EACH STATEMENT EXECUTE FUNCTION public.refuse_truncate();

CREATE TRIGGER procrastinate_jobs_notify_queue_job_aborted_v1 AFTER UPDATE OF abort_requested ON public.procrastinate_jobs FOR EACH ROW WHEN (((old.abort_requested = false) AND (new.abort_requested = true) AND (new.status = 'doing'::public.procrastinate_job_status))) EXECUTE FUNCTION public.procrastinate_notify_queue_abort_job_v1();

CREATE TRIGGER procrastinate_jobs_notify_queue_job_inserted_v1 AFTER INSERT ON public.procrastinate_jobs FOR EACH ROW WHEN ((new.status = 'todo'::public.procrastinate_job_status)) EXECUTE FUNCTION public.procrastinate_notify_queue_job_inserted_v1();

CREATE TRIGGER procrastinate_trigger_abort_requested_events_v1 AFTER UPDATE OF abort_requested ON public.procrastinate_jobs FOR EACH ROW WHEN ((new.abort_requested = true)) EXECUTE FUNCTION public.procrastinate_trigger_abort_requested_events_procedure_v1();

CREATE TRIGGER procrastinate_trigger_delete_jobs_v1 BEFORE DELETE ON public.procrastinate_jobs FOR EACH ROW EXECUTE FUNCTION public.procrastinate_unlink_periodic_defers_v1();

CREATE TRIGGER procrastinate_trigger_scheduled_events_v1 AFTER INSERT OR UPDATE ON public.procrastinate_jobs FOR EACH ROW WHEN (((new.scheduled_at IS NOT NULL) AND (new.status = 'todo'::public.procrastinate_job_status))) EXECUTE FUNCTION public.procrastinate_trigger_function_scheduled_events_v1();

CREATE TRIGGER procrastinate_trigger_status_events_insert_v1 AFTER INSERT ON public.procrastinate_jobs FOR EACH ROW WHEN ((new.status = 'todo'::public.procrastinate_job_status)) EXECUTE FUNCTION public.procrastinate_trigger_function_status_events_insert_v1();

CREATE TRIGGER procrastinate_trigger_status_events_update_v1 AFTER UPDATE OF status ON public.procrastinate_jobs FOR EACH ROW EXECUTE FUNCTION public.procrastinate_trigger_function_status_events_update_v1();

CREATE TRIGGER send_has_one_life BEFORE UPDATE OF state ON public.mail_send FOR EACH ROW WHEN (((old.state)::text IS DISTINCT FROM (new.state)::text)) EXECUTE FUNCTION public.guard_send_life();

ALTER TABLE ONLY public.audiences_audience
    ADD CONSTRAINT audiences_audience_workspace_id_cc5823b7_fk_workspace FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.audiences_audiencerevision
    ADD CONSTRAINT audiences_audiencere_audience_id_e7ef6fd4_fk_audiences FOREIGN KEY (audience_id) REFERENCES public.audiences_audience(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.audiences_audiencerevision
    ADD CONSTRAINT audiences_audiencere_author_id_27e99e01_fk_workspace FOREIGN KEY (author_id) REFERENCES public.workspaces_member(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.audiences_audiencerevision
    ADD CONSTRAINT audiences_audiencere_workspace_id_224009d3_fk_workspace FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.auth_group_permissions
    ADD CONSTRAINT auth_group_permissio_permission_id_84c5c92e_fk_auth_perm FOREIGN KEY (permission_id) REFERENCES public.auth_permission(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.auth_group_permissions
    ADD CONSTRAINT auth_group_permissions_group_id_b120cbf9_fk_auth_group_id FOREIGN KEY (group_id) REFERENCES public.auth_group(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.auth_permission
    ADD CONSTRAINT auth_permission_content_type_id_2f476e4b_fk_django_co FOREIGN KEY (content_type_id) REFERENCES public.django_content_type(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.axes_accessattemptexpiration
    ADD CONSTRAINT axes_accessattemptex_access_attempt_id_6b73a47a_fk_axes_acce FOREIGN KEY (access_attempt_id) REFERENCES public.axes_accessattempt(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.broadcasts_broadcast
    ADD CONSTRAINT broadcasts_broadcast_approved_by_id_f3345831_fk_workspace FOREIGN KEY (approved_by_id) REFERENCES public.workspaces_member(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.broadcasts_broadcast
    ADD CONSTRAINT broadcasts_broadcast_asked_by_id_b5b23c80_fk_workspace FOREIGN KEY (asked_by_id) REFERENCES public.workspaces_member(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.broadcasts_broadcastrevision
    ADD CONSTRAINT broadcasts_broadcast_author_id_cb2ab409_fk_workspace FOREIGN KEY (author_id) REFERENCES public.workspaces_member(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.broadcasts_broadcastrevision
    ADD CONSTRAINT broadcasts_broadcast_broadcast_id_261e5e1f_fk_broadcast FOREIGN KEY (broadcast_id) REFERENCES public.broadcasts_broadcast(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.broadcasts_broadcast
    ADD CONSTRAINT broadcasts_broadcast_set_off_by_id_a78f423c_fk_workspace FOREIGN KEY (set_off_by_id) REFERENCES public.workspaces_member(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.broadcasts_broadcast
    ADD CONSTRAINT broadcasts_broadcast_workspace_id_2b94b23d_fk_workspace FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.broadcasts_broadcastrevision
    ADD CONSTRAINT broadcasts_broadcast_workspace_id_6738c8fa_fk_workspace FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.doors_admission
    ADD CONSTRAINT doors_admission_member_id_a2b7d0a7_fk_workspaces_member_id FOREIGN KEY (member_id) REFERENCES public.workspaces_member(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.doors_admission
    ADD CONSTRAINT doors_admission_sequence_id_db90fd8d_fk_sequences_sequence_id FOREIGN KEY (sequence_id) REFERENCES public.sequences_sequence(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.doors_admission
    ADD CONSTRAINT doors_admission_workspace_id_83d89471_fk_workspace FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.doors_doorheld
    ADD CONSTRAINT doors_doorheld_subscriber_id_1078a974_fk_people_subscriber_id FOREIGN KEY (subscriber_id) REFERENCES public.people_subscriber(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.doors_doorheld
    ADD CONSTRAINT doors_doorheld_watch_id_cbb7386b_fk_doors_doorwatch_id FOREIGN KEY (watch_id) REFERENCES public.doors_doorwatch(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.doors_doorheld
    ADD CONSTRAINT doors_doorheld_workspace_id_76ec7686_fk_workspaces_workspace_id FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.doors_doorseen
    ADD CONSTRAINT doors_doorseen_subscriber_id_dd0d1e17_fk_people_subscriber_id FOREIGN KEY (subscriber_id) REFERENCES public.people_subscriber(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.doors_doorseen
    ADD CONSTRAINT doors_doorseen_watch_id_cc9568f1_fk_doors_doorwatch_id FOREIGN KEY (watch_id) REFERENCES public.doors_doorwatch(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.doors_doorseen
    ADD CONSTRAINT doors_doorseen_workspace_id_934b903d_fk_workspaces_workspace_id FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.doors_doorwatch
    ADD CONSTRAINT doors_doorwatch_sequence_id_fae82739_fk_sequences_sequence_id FOREIGN KEY (sequence_id) REFERENCES public.sequences_sequence(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.doors_doorwatch
    ADD CONSTRAINT doors_doorwatch_workspace_id_661407a6_fk_workspace FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.forms_picture
    ADD CONSTRAINT forms_picture_workspace_id_64effa1f_fk_workspaces_workspace_id FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.imports_filepart
    ADD CONSTRAINT imports_filepart_file_import_id_2ff825f8_fk_submissio FOREIGN KEY (file_import_id) REFERENCES public.submissions_fileimport(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.imports_filepart
    ADD CONSTRAINT imports_filepart_workspace_id_333da703_fk_workspace FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.imports_refusedrow
    ADD CONSTRAINT imports_refusedrow_file_import_id_742f7ddf_fk_submissio FOREIGN KEY (file_import_id) REFERENCES public.submissions_fileimport(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.imports_refusedrow
    ADD CONSTRAINT imports_refusedrow_workspace_id_837779a9_fk_workspace FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.mail_broadcastpause
    ADD CONSTRAINT mail_broadcastpause_workspace_id_bd8c26c9_fk_workspace FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.mail_librarypicture
    ADD CONSTRAINT mail_librarypicture_member_id_cdd9969b_fk_workspaces_member_id FOREIGN KEY (member_id) REFERENCES public.workspaces_member(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.mail_librarypicture
    ADD CONSTRAINT mail_librarypicture_workspace_id_77f50248_fk_workspace FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.mail_listmail
    ADD CONSTRAINT mail_listmail_asking_id_65d9200c_fk_mail_message_id FOREIGN KEY (asking_id) REFERENCES public.mail_message(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.mail_listmail
    ADD CONSTRAINT mail_listmail_list_id_cd79a4d0_fk_people_mailinglist_id FOREIGN KEY (list_id) REFERENCES public.people_mailinglist(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.mail_listmail
    ADD CONSTRAINT mail_listmail_welcome_id_a6c2d74e_fk_mail_message_id FOREIGN KEY (welcome_id) REFERENCES public.mail_message(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.mail_listmail
    ADD CONSTRAINT mail_listmail_workspace_id_7ac1753b_fk_workspaces_workspace_id FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.mail_message
    ADD CONSTRAINT mail_message_workspace_id_2936e75c_fk_workspaces_workspace_id FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.mail_messagefile
    ADD CONSTRAINT mail_messagefile_file_id_b211db49_fk_mail_storedfile_id FOREIGN KEY (file_id) REFERENCES public.mail_storedfile(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.mail_messagefile
    ADD CONSTRAINT mail_messagefile_message_id_44fdb637_fk_mail_message_id FOREIGN KEY (message_id) REFERENCES public.mail_message(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.mail_messagefile
    ADD CONSTRAINT mail_messagefile_workspace_id_f22ad9d1_fk_workspace FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.mail_messagerevision
    ADD CONSTRAINT mail_messagerevision_author_id_f82fc565_fk_workspaces_member_id FOREIGN KEY (author_id) REFERENCES public.workspaces_member(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.mail_messagerevision
    ADD CONSTRAINT mail_messagerevision_message_id_74a539df_fk_mail_message_id FOREIGN KEY (message_id) REFERENCES public.mail_message(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.mail_messagerevision
    ADD CONSTRAINT mail_messagerevision_workspace_id_eeeb6417_fk_workspace FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.mail_pace
    ADD CONSTRAINT mail_pace_workspace_id_f8129c37_fk_workspaces_workspace_id FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.mail_replymailbox
    ADD CONSTRAINT mail_replymailbox_workspace_id_83f77a5d_fk_workspace FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.mail_returned
    ADD CONSTRAINT mail_returned_send_id_e543798c_fk_mail_send_id FOREIGN KEY (send_id) REFERENCES public.mail_send(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.mail_returned
    ADD CONSTRAINT mail_returned_subscriber_id_6a4ee922_fk_people_subscriber_id FOREIGN KEY (subscriber_id) REFERENCES public.people_subscriber(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.mail_returned
    ADD CONSTRAINT mail_returned_workspace_id_d23b4958_fk_workspaces_workspace_id FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.mail_send
    ADD CONSTRAINT mail_send_list_id_cdf20172_fk_people_mailinglist_id FOREIGN KEY (list_id) REFERENCES public.people_mailinglist(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.mail_send
    ADD CONSTRAINT mail_send_message_id_bd9d58a4_fk_mail_message_id FOREIGN KEY (message_id) REFERENCES public.mail_message(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.mail_send
    ADD CONSTRAINT mail_send_revision_id_82b1f6de_fk_mail_messagerevision_id FOREIGN KEY (revision_id) REFERENCES public.mail_messagerevision(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.mail_send
    ADD CONSTRAINT mail_send_snag_id_5f63b608_fk_snags_snag_id FOREIGN KEY (snag_id) REFERENCES public.snags_snag(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.mail_send
    ADD CONSTRAINT mail_send_subscriber_id_7a69a7ec_fk_people_subscriber_id FOREIGN KEY (subscriber_id) REFERENCES public.people_subscriber(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.mail_sendingdomain
    ADD CONSTRAINT mail_sendingdomain_workspace_id_5c55231f_fk_workspace FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.mail_sendinghold
    ADD CONSTRAINT mail_sendinghold_snag_id_3899b277_fk_snags_snag_id FOREIGN KEY (snag_id) REFERENCES public.snags_snag(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.mail_sendinghold
    ADD CONSTRAINT mail_sendinghold_workspace_id_48e70a09_fk_workspace FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.mail_storedfile
    ADD CONSTRAINT mail_storedfile_member_id_54286e06_fk_workspaces_member_id FOREIGN KEY (member_id) REFERENCES public.workspaces_member(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.mail_storedfile
    ADD CONSTRAINT mail_storedfile_workspace_id_dc393654_fk_workspace FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.mail_touch
    ADD CONSTRAINT mail_touch_send_id_9f7d5579_fk_mail_send_id FOREIGN KEY (send_id) REFERENCES public.mail_send(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.mail_touch
    ADD CONSTRAINT mail_touch_workspace_id_46b53940_fk_workspaces_workspace_id FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.notices_notice
    ADD CONSTRAINT notices_notice_workspace_id_8590bba6_fk_workspaces_workspace_id FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.people_erased
    ADD CONSTRAINT people_erased_workspace_id_0745a87a_fk_workspaces_workspace_id FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.people_evidence
    ADD CONSTRAINT people_evidence_membership_id_45662fd9_fk_people_membership_id FOREIGN KEY (membership_id) REFERENCES public.people_membership(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE public.people_fact
    ADD CONSTRAINT people_fact_subscriber_fk FOREIGN KEY (subscriber_id) REFERENCES public.people_subscriber(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.people_field
    ADD CONSTRAINT people_field_workspace_id_1b1264cb_fk_workspaces_workspace_id FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.people_formeraddress
    ADD CONSTRAINT people_formeraddress_subscriber_id_0f7a0b72_fk_people_su FOREIGN KEY (subscriber_id) REFERENCES public.people_subscriber(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.people_formeraddress
    ADD CONSTRAINT people_formeraddress_workspace_id_4968bfa7_fk_workspace FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.people_frozengroup
    ADD CONSTRAINT people_frozengroup_made_by_id_7ef8fd22_fk_workspaces_member_id FOREIGN KEY (made_by_id) REFERENCES public.workspaces_member(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.people_frozengroup
    ADD CONSTRAINT people_frozengroup_workspace_id_158545af_fk_workspace FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.people_frozenmember
    ADD CONSTRAINT people_frozenmember_group_id_07e6233b_fk_people_frozengroup_id FOREIGN KEY (group_id) REFERENCES public.people_frozengroup(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.people_frozenmember
    ADD CONSTRAINT people_frozenmember_subscriber_id_a4dae7eb_fk_people_su FOREIGN KEY (subscriber_id) REFERENCES public.people_subscriber(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.people_mailinglist
    ADD CONSTRAINT people_mailinglist_workspace_id_04cab848_fk_workspace FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.people_membership
    ADD CONSTRAINT people_membership_list_id_474b3115_fk_people_mailinglist_id FOREIGN KEY (list_id) REFERENCES public.people_mailinglist(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.people_membership
    ADD CONSTRAINT people_membership_subscriber_id_55b2b30e_fk_people_su FOREIGN KEY (subscriber_id) REFERENCES public.people_subscriber(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.people_mention
    ADD CONSTRAINT people_mention_workspace_id_3d8d4163_fk_workspaces_workspace_id FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.people_merge
    ADD CONSTRAINT people_merge_kept_id_d4ee6e06_fk_people_subscriber_id FOREIGN KEY (kept_id) REFERENCES public.people_subscriber(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.people_merge
    ADD CONSTRAINT people_merge_workspace_id_51955580_fk_workspaces_workspace_id FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.people_ownrequest
    ADD CONSTRAINT people_ownrequest_subscriber_id_ef320ce1_fk_people_su FOREIGN KEY (subscriber_id) REFERENCES public.people_subscriber(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.people_ownrequest
    ADD CONSTRAINT people_ownrequest_workspace_id_dfd46a1c_fk_workspace FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.people_subscriber
    ADD CONSTRAINT people_subscriber_owner_id_e19eb064_fk_workspaces_member_id FOREIGN KEY (owner_id) REFERENCES public.workspaces_member(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.people_subscriber
    ADD CONSTRAINT people_subscriber_workspace_id_e6cf17e1_fk_workspace FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.people_suppression
    ADD CONSTRAINT people_suppression_member_id_ae66cc59_fk_workspaces_member_id FOREIGN KEY (member_id) REFERENCES public.workspaces_member(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.people_suppression
    ADD CONSTRAINT people_suppression_workspace_id_03ba84ca_fk_workspace FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.people_tag
    ADD CONSTRAINT people_tag_workspace_id_9c9346c3_fk_workspaces_workspace_id FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.people_tagging
    ADD CONSTRAINT people_tagging_subscriber_id_97be0e36_fk_people_subscriber_id FOREIGN KEY (subscriber_id) REFERENCES public.people_subscriber(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.people_tagging
    ADD CONSTRAINT people_tagging_tag_id_271d4129_fk_people_tag_id FOREIGN KEY (tag_id) REFERENCES public.people_tag(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.people_task
    ADD CONSTRAINT people_task_member_id_563bbf2b_fk_workspaces_member_id FOREIGN KEY (member_id) REFERENCES public.workspaces_member(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.people_task
    ADD CONSTRAINT people_task_subscriber_id_191775e6_fk_people_subscriber_id FOREIGN KEY (subscriber_id) REFERENCES public.people_subscriber(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.people_task
    ADD CONSTRAINT people_task_workspace_id_9c37bb3e_fk_workspaces_workspace_id FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.procrastinate_events
    ADD CONSTRAINT procrastinate_events_job_id_fkey FOREIGN KEY (job_id) REFERENCES public.procrastinate_jobs(id) ON DELETE CASCADE;

ALTER TABLE ONLY public.procrastinate_jobs
    ADD CONSTRAINT procrastinate_jobs_worker_id_fkey FOREIGN KEY (worker_id) REFERENCES public.procrastinate_workers(id) ON DELETE SET NULL;

ALTER TABLE ONLY public.procrastinate_periodic_defers
    ADD CONSTRAINT procrastinate_periodic_defers_job_id_fkey FOREIGN KEY (job_id) REFERENCES public.procrastinate_jobs(id);

ALTER TABLE ONLY public.replays_replay
    ADD CONSTRAINT replays_replay_member_id_72ef9066_fk_workspaces_member_id FOREIGN KEY (member_id) REFERENCES public.workspaces_member(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.replays_replay
    ADD CONSTRAINT replays_replay_revision_id_84e3ecfe_fk_sources_routerevision_id FOREIGN KEY (revision_id) REFERENCES public.sources_routerevision(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.replays_replay
    ADD CONSTRAINT replays_replay_source_id_748438a5_fk_sources_source_id FOREIGN KEY (source_id) REFERENCES public.sources_source(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.replays_replay
    ADD CONSTRAINT replays_replay_workspace_id_69e745da_fk_workspaces_workspace_id FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.replays_replayline
    ADD CONSTRAINT replays_replayline_replay_id_5e724788_fk_replays_replay_id FOREIGN KEY (replay_id) REFERENCES public.replays_replay(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.replays_replayline
    ADD CONSTRAINT replays_replayline_subscriber_id_699ee920_fk_people_su FOREIGN KEY (subscriber_id) REFERENCES public.people_subscriber(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.replays_replayline
    ADD CONSTRAINT replays_replayline_workspace_id_2e31f6e0_fk_workspace FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.sequences_forecast
    ADD CONSTRAINT sequences_forecast_workspace_id_dd58fa68_fk_workspace FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.sequences_forecastperson
    ADD CONSTRAINT sequences_forecastpe_subscriber_id_abb84339_fk_people_su FOREIGN KEY (subscriber_id) REFERENCES public.people_subscriber(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.sequences_forecastperson
    ADD CONSTRAINT sequences_forecastpe_workspace_id_b3ec2575_fk_workspace FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.sequences_run
    ADD CONSTRAINT sequences_run_revision_id_e1a113ba_fk_sequences FOREIGN KEY (revision_id) REFERENCES public.sequences_sequencerevision(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.sequences_run
    ADD CONSTRAINT sequences_run_sequence_id_d3df7f1a_fk_sequences_sequence_id FOREIGN KEY (sequence_id) REFERENCES public.sequences_sequence(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.sequences_run
    ADD CONSTRAINT sequences_run_snag_id_1f22eaec_fk_snags_snag_id FOREIGN KEY (snag_id) REFERENCES public.snags_snag(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.sequences_run
    ADD CONSTRAINT sequences_run_subscriber_id_cfaeb0db_fk_people_subscriber_id FOREIGN KEY (subscriber_id) REFERENCES public.people_subscriber(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.sequences_sequence
    ADD CONSTRAINT sequences_sequence_workspace_id_5ff7a78d_fk_workspace FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.sequences_sequencerevision
    ADD CONSTRAINT sequences_sequencere_author_id_16e64337_fk_workspace FOREIGN KEY (author_id) REFERENCES public.workspaces_member(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.sequences_sequencerevision
    ADD CONSTRAINT sequences_sequencere_sequence_id_26be5643_fk_sequences FOREIGN KEY (sequence_id) REFERENCES public.sequences_sequence(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.sequences_sequencerevision
    ADD CONSTRAINT sequences_sequencere_workspace_id_e08a17e7_fk_workspace FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.sequences_signal
    ADD CONSTRAINT sequences_signal_subscriber_id_a6e145a3_fk_people_subscriber_id FOREIGN KEY (subscriber_id) REFERENCES public.people_subscriber(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.sequences_signal
    ADD CONSTRAINT sequences_signal_workspace_id_08662d54_fk_workspace FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.sequences_visit
    ADD CONSTRAINT sequences_visit_run_id_b1b49f74_fk_sequences_run_id FOREIGN KEY (run_id) REFERENCES public.sequences_run(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.services_attempt
    ADD CONSTRAINT services_attempt_handoff_id_16ef9042_fk_services_handoff_id FOREIGN KEY (handoff_id) REFERENCES public.services_handoff(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.services_attempt
    ADD CONSTRAINT services_attempt_workspace_id_e2848a59_fk_workspace FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.services_handoff
    ADD CONSTRAINT services_handoff_service_id_79e75da0_fk_services_service_id FOREIGN KEY (service_id) REFERENCES public.services_service(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.services_handoff
    ADD CONSTRAINT services_handoff_subscriber_id_7ce4d0c5_fk_people_subscriber_id FOREIGN KEY (subscriber_id) REFERENCES public.people_subscriber(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.services_handoff
    ADD CONSTRAINT services_handoff_workspace_id_a6bf6b6b_fk_workspace FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.services_heard
    ADD CONSTRAINT services_heard_service_id_4672413d_fk_services_service_id FOREIGN KEY (service_id) REFERENCES public.services_service(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.services_heard
    ADD CONSTRAINT services_heard_subscriber_id_6aab8dff_fk_people_subscriber_id FOREIGN KEY (subscriber_id) REFERENCES public.people_subscriber(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.services_heard
    ADD CONSTRAINT services_heard_workspace_id_6eb0b93f_fk_workspaces_workspace_id FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.services_plan
    ADD CONSTRAINT services_plan_workspace_id_c7a05454_fk_workspaces_workspace_id FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.services_service
    ADD CONSTRAINT services_service_list_id_3b00b723_fk_people_mailinglist_id FOREIGN KEY (list_id) REFERENCES public.people_mailinglist(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.services_service
    ADD CONSTRAINT services_service_workspace_id_359c725d_fk_workspace FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.snags_snag
    ADD CONSTRAINT snags_snag_workspace_id_8c189509_fk_workspaces_workspace_id FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.sources_routerevision
    ADD CONSTRAINT sources_routerevisio_author_id_62599f7f_fk_workspace FOREIGN KEY (author_id) REFERENCES public.workspaces_member(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.sources_routerevision
    ADD CONSTRAINT sources_routerevisio_workspace_id_ea989c06_fk_workspace FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.sources_routerevision
    ADD CONSTRAINT sources_routerevision_source_id_abc85c99_fk_sources_source_id FOREIGN KEY (source_id) REFERENCES public.sources_source(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.sources_source
    ADD CONSTRAINT sources_source_workspace_id_ec59290f_fk_workspaces_workspace_id FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.sources_watch
    ADD CONSTRAINT sources_watch_source_id_fb229e16_fk_sources_source_id FOREIGN KEY (source_id) REFERENCES public.sources_source(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.sources_watch
    ADD CONSTRAINT sources_watch_workspace_id_acc6b28b_fk_workspaces_workspace_id FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.submissions_fileimport
    ADD CONSTRAINT submissions_fileimpo_member_id_0b26936f_fk_workspace FOREIGN KEY (member_id) REFERENCES public.workspaces_member(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.submissions_fileimport
    ADD CONSTRAINT submissions_fileimpo_workspace_id_a7f8c496_fk_workspace FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.submissions_fileimport
    ADD CONSTRAINT submissions_fileimport_source_id_49811df2_fk_sources_source_id FOREIGN KEY (source_id) REFERENCES public.sources_source(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.submissions_submission
    ADD CONSTRAINT submissions_submissi_file_import_id_02555b7f_fk_submissio FOREIGN KEY (file_import_id) REFERENCES public.submissions_fileimport(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.submissions_submission
    ADD CONSTRAINT submissions_submissi_revision_id_bac21699_fk_sources_r FOREIGN KEY (revision_id) REFERENCES public.sources_routerevision(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.submissions_submission
    ADD CONSTRAINT submissions_submissi_shown_id_b0d8ee0d_fk_sources_r FOREIGN KEY (shown_id) REFERENCES public.sources_routerevision(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.submissions_submission
    ADD CONSTRAINT submissions_submissi_subscriber_id_ccf313ba_fk_people_su FOREIGN KEY (subscriber_id) REFERENCES public.people_subscriber(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.submissions_submission
    ADD CONSTRAINT submissions_submission_snag_id_121b6f57_fk_snags_snag_id FOREIGN KEY (snag_id) REFERENCES public.snags_snag(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.submissions_submission
    ADD CONSTRAINT submissions_submission_source_id_7f2211b4_fk_sources_source_id FOREIGN KEY (source_id) REFERENCES public.sources_source(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.webhooks_call
    ADD CONSTRAINT webhooks_call_source_id_517027c5_fk_sources_source_id FOREIGN KEY (source_id) REFERENCES public.sources_source(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.webhooks_call
    ADD CONSTRAINT webhooks_call_submission_id_3349306e_fk_submissio FOREIGN KEY (submission_id) REFERENCES public.submissions_submission(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.webhooks_call
    ADD CONSTRAINT webhooks_call_workspace_id_c7cb263f_fk_workspaces_workspace_id FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.workspaces_cause
    ADD CONSTRAINT workspaces_cause_workspace_id_2befb0c1_fk_workspace FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.workspaces_historyentry
    ADD CONSTRAINT workspaces_historyen_member_id_6a334824_fk_workspace FOREIGN KEY (member_id) REFERENCES public.workspaces_member(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.workspaces_historyentry
    ADD CONSTRAINT workspaces_historyen_workspace_id_9e946aa3_fk_workspace FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.workspaces_member
    ADD CONSTRAINT workspaces_member_user_id_5cbd3867_fk_workspaces_user_id FOREIGN KEY (user_id) REFERENCES public.workspaces_user(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.workspaces_member
    ADD CONSTRAINT workspaces_member_workspace_id_675b8450_fk_workspace FOREIGN KEY (workspace_id) REFERENCES public.workspaces_workspace(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.workspaces_user_groups
    ADD CONSTRAINT workspaces_user_groups_group_id_b23d60db_fk_auth_group_id FOREIGN KEY (group_id) REFERENCES public.auth_group(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.workspaces_user_groups
    ADD CONSTRAINT workspaces_user_groups_user_id_4ba6664c_fk_workspaces_user_id FOREIGN KEY (user_id) REFERENCES public.workspaces_user(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.workspaces_user_user_permissions
    ADD CONSTRAINT workspaces_user_user_permission_id_838e521f_fk_auth_perm FOREIGN KEY (permission_id) REFERENCES public.auth_permission(id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY public.workspaces_user_user_permissions
    ADD CONSTRAINT workspaces_user_user_user_id_b1cea117_fk_workspace FOREIGN KEY (user_id) REFERENCES public.workspaces_user(id) DEFERRABLE INITIALLY DEFERRED;

INSERT INTO public.django_migrations (app, name, applied) VALUES ('contenttypes', '0001_initial', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('contenttypes', '0002_remove_content_type_name', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('auth', '0001_initial', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('auth', '0002_alter_permission_name_max_length', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('auth', '0003_alter_user_email_max_length', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('auth', '0004_alter_user_username_opts', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('auth', '0005_alter_user_last_login_null', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('auth', '0006_require_contenttypes_0002', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('auth', '0007_alter_validators_add_error_messages', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('auth', '0008_alter_user_username_max_length', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('auth', '0009_alter_user_last_name_max_length', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('auth', '0010_alter_group_name_max_length', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('auth', '0011_update_proxy_permissions', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('auth', '0012_alter_user_first_name_max_length', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('workspaces', '0001_initial', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('workspaces', '0002_ways_in', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('workspaces', '0003_history', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('workspaces', '0004_catalogue_version', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('workspaces', '0005_cause', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('workspaces', '0006_sequences_in_full', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('workspaces', '0007_letters', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('workspaces', '0008_attention', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('workspaces', '0009_formats', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('audiences', '0001_initial', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('axes', '0001_initial', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('axes', '0002_auto_20151217_2044', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('axes', '0003_auto_20160322_0929', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('axes', '0004_auto_20181024_1538', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('axes', '0005_remove_accessattempt_trusted', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('axes', '0006_remove_accesslog_trusted', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('axes', '0007_alter_accessattempt_unique_together', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('axes', '0008_accessfailurelog', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('axes', '0009_add_session_hash', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('axes', '0010_accessattemptexpiration', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('workspaces', '0010_workspace_approves_broadcasts', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('broadcasts', '0001_initial', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('people', '0001_initial', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('people', '0002_initial', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('people', '0003_ways_in', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('people', '0004_conditions', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('people', '0005_owners_and_tasks', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('people', '0006_double_opt_in', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('people', '0007_suppression', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('people', '0008_taken_back', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('people', '0009_own_page_and_merge', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('people', '0010_public_lists', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('people', '0011_told_of_a_change', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('people', '0012_confirmed_lists', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('people', '0013_chains', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('people', '0014_lean_indexes_and_zones', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('people', '0015_causes', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('people', '0016_fewer_indexes', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('people', '0017_sequences_in_full', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('people', '0018_letters', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('people', '0019_list_language', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('people', '0020_list_words', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('people', '0021_fewer_constraints', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('snags', '0001_initial', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('snags', '0002_initial', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('snags', '0003_ways_in', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('snags', '0004_sequences', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('sequences', '0001_initial', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('sequences', '0002_initial', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('sequences', '0003_tries_and_archive', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('sequences', '0004_causes', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('sequences', '0005_fewer_indexes', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('sequences', '0006_sequences_in_full', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('doors', '0001_initial', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('doors', '0002_every_address', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('forms', '0001_initial', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('sources', '0001_initial', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('submissions', '0001_initial', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('imports', '0001_initial', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('imports', '0002_initial', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('snags', '0005_services', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('people', '0022_every_address', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('people', '0023_evidence_keyed', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('procrastinate', '0001_initial', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('mail', '0001_initial', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('mail', '0002_initial', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('mail', '0003_double_opt_in', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('mail', '0004_files', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('mail', '0005_handed_at_and_archive', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('mail', '0006_causes', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('mail', '0007_fewer_indexes', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('mail', '0008_letters', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('mail', '0009_revisions', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('mail', '0010_no_texts', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('mail', '0011_reply_mailbox', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('mail', '0012_send_due', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('mail', '0013_was_held', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('mail', '0014_answers_kept', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('mail', '0015_fewer_constraints', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('mail', '0016_one_decision', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('mail', '0017_one_life', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('mail', '0018_note_of_a_record', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('mail', '0019_broadcasts', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('notices', '0001_initial', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('people', '0024_frozen_groups', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('procrastinate', '0002_drop_started_at_column', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('procrastinate', '0003_drop_started_at_column', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('procrastinate', '0004_drop_procrastinate_version_table', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('procrastinate', '0005_fix_procrastinate_fetch_job', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('procrastinate', '0006_fix_trigger_status_events_insert', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('procrastinate', '0007_add_queueing_lock_column', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('procrastinate', '0008_close_fetch_job_race_condition', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('procrastinate', '0009_add_defer_job_function', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('procrastinate', '0010_add_procrastinate_periodic_defers', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('procrastinate', '0011_add_foreign_key_index', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('procrastinate', '0012_add_locks_to_periodic_defer', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('procrastinate', '0013_fix_procrastinate_defer_periodic_job', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('procrastinate', '0014_add_finish_job_and_retry_job_functions', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('procrastinate', '0015_add_trigger_on_job_deletion', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('procrastinate', '0016_delete_finished_jobs', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('procrastinate', '0017_add_checks_to_finish_job', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('procrastinate', '0018_add_checks_to_retry_job', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('procrastinate', '0019_fix_finish_job_compat_issue', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('procrastinate', '0020_add_index_on_procrastinate_jobs', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('procrastinate', '0021_add_kwargs_to_defer_periodic_job', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('procrastinate', '0022_null_locks_excluded', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('procrastinate', '0023_remove_old_finish_job_function', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('procrastinate', '0024_job_id_bigint', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('procrastinate', '0025_add_models', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('procrastinate', '0026_add_job_priority', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('procrastinate', '0027_add_periodic_job_priority', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('procrastinate', '0028_add_cancel_states', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('procrastinate', '0029_add_additional_params_to_retry_job', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('procrastinate', '0030_alter_procrastinateevent_options', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('procrastinate', '0031_add_indexes_for_fetch_job', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('procrastinate', '0032_pre_cancel_notification', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('procrastinate', '0033_post_cancel_notification', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('procrastinate', '0034_pre_add_heartbeat', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('procrastinate', '0035_post_add_heartbeat', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('procrastinate', '0036_add_worker_model', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('procrastinate', '0037_pre_batch_defer_jobs', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('procrastinate', '0038_post_batch_defer_jobs', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('procrastinate', '0039_pre_priority_lock_fetch_job', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('procrastinate', '0040_pre_retry_failed_job', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('procrastinate', '0041_post_retry_failed_job', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('replays', '0001_initial', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('replays', '0002_initial', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('sequences', '0007_ahead', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('sequences', '0008_asked', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('sequences', '0009_indexes_of_time', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('sequences', '0010_fewer_constraints', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('sequences', '0011_answers_kept', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('sequences', '0012_run_constraint', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('sequences', '0013_one_decision', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('services', '0001_services', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('services', '0002_claims', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('services', '0003_answers_kept', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('services', '0004_outcome', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('sessions', '0001_initial', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('webhooks', '0001_initial', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('webhooks', '0002_outcome', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('submissions', '0002_idempotency_key', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('submissions', '0003_attention', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('submissions', '0004_fewer_constraints', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('stream', '0001_triggers', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('stream', '0002_erased', now());
INSERT INTO public.django_migrations (app, name, applied) VALUES ('stream', '0003_broadcasts', now());
