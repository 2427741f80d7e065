-- Roles of one book on a PostgreSQL server: look (reads), work (reads and writes), keep (brings up to date too).
-- Run once, by whoever made the book's tables, in its database:   tenaz book roles | psql DATABASE
-- Then give each user one:   CREATE ROLE mara LOGIN IN ROLE tenaz_work;
DO $$
DECLARE
    wanted text;
    found record;
BEGIN
    FOREACH wanted IN ARRAY ARRAY['tenaz_look', 'tenaz_work', 'tenaz_keep'] LOOP
        IF NOT EXISTS (SELECT 1 FROM pg_roles WHERE rolname = wanted) THEN
            EXECUTE format('CREATE ROLE %I NOLOGIN', wanted);
        END IF;
        EXECUTE format('GRANT CONNECT ON DATABASE %I TO %I', current_database(), wanted);
    END LOOP;
    GRANT USAGE ON SCHEMA public TO tenaz_look, tenaz_work, tenaz_keep;
    GRANT CREATE ON SCHEMA public TO tenaz_keep;
    GRANT SELECT ON ALL TABLES IN SCHEMA public TO tenaz_look, tenaz_work;
    GRANT INSERT, UPDATE, DELETE ON ALL TABLES IN SCHEMA public TO tenaz_work;
    GRANT USAGE, SELECT, UPDATE ON ALL SEQUENCES IN SCHEMA public TO tenaz_work;
    REVOKE INSERT, UPDATE, DELETE ON alembic_version FROM tenaz_work;
    -- What a later version adds is given out in the same way.
    ALTER DEFAULT PRIVILEGES FOR ROLE tenaz_keep IN SCHEMA public GRANT SELECT ON TABLES TO tenaz_look, tenaz_work;
    ALTER DEFAULT PRIVILEGES FOR ROLE tenaz_keep IN SCHEMA public GRANT INSERT, UPDATE, DELETE ON TABLES TO tenaz_work;
    ALTER DEFAULT PRIVILEGES FOR ROLE tenaz_keep IN SCHEMA public GRANT USAGE, SELECT, UPDATE ON SEQUENCES TO tenaz_work;
    FOR found IN SELECT tablename AS name FROM pg_tables WHERE schemaname = 'public' LOOP
        EXECUTE format('ALTER TABLE public.%I OWNER TO tenaz_keep', found.name);
    END LOOP;
    FOR found IN SELECT proname AS name FROM pg_proc WHERE proname LIKE 'tenaz\_fed\_%' LOOP
        EXECUTE format('ALTER FUNCTION public.%I() OWNER TO tenaz_keep', found.name);
    END LOOP;
    EXECUTE format('GRANT tenaz_keep TO %I', current_user);
END $$;
