web: exec python -m server.config.serve
worker: while :; do python manage.py worker live; sleep 1; done
bulk: while :; do nice -n 10 python manage.py worker bulk; sleep 1; done
inbound: exec python -m server.inbound
outside: exec python -m outside
