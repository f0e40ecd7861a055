web: exec gunicorn server.config.wsgi --bind 127.0.0.1:$YALLA_PORT --workers 2 --threads 8 --worker-class gthread --keep-alive 30 --log-level warning
worker: while :; do python manage.py worker; sleep 1; done
outside: exec python -m outside
