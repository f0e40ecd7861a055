"""What the APIs of the services have in common: JSON in and out, keys, and moods in which they behave
badly, one at a time, until they are set back."""

import json
import threading
import time
from collections.abc import Callable
from functools import wraps
from typing import Any

from django.http import HttpRequest, HttpResponse, HttpResponseRedirect, JsonResponse
from django.views.decorators.csrf import csrf_exempt

from .store import Store

MOODS = {
    "well": "answers as it should",
    "slow": "takes three seconds for each answer",
    "limited": "takes two requests in ten seconds, then answers 429 with Retry-After",
    "limited-silently": "the same, without Retry-After",
    "broken": "answers 500",
    "stores-and-breaks": "does what it is asked, and answers 500",
    "stores-and-hangs": "does what it is asked, and answers after a minute",
    "rubbish": "answers with something that is not JSON",
    "wrong-types": "answers with JSON of another shape",
    "names-people": "refuses everybody, by a sentence that names them",
    "expired": "refuses the key or token",
    "redirects": "leads to an address in a private network",
    "huge": "answers with 100 MB",
}
View = Callable[..., HttpResponse]
_LIMIT = threading.Lock()


class Wrong(Exception):
    """An error that the API answers with."""

    def __init__(self, status: int, message: str, code: str = "") -> None:
        super().__init__(message)
        self.status, self.message, self.code = status, message, code


def mood_of(store: Store) -> str:
    """The mood that a service is in."""
    found = store.get("mood", "mood")
    return found["name"] if found else "well"


def answers(store: Store, allowed: Callable[[HttpRequest], bool]) -> Callable[[View], View]:
    """An endpoint of an API: whoever may not is told so, and the mood has its way."""

    def around(view: View) -> View:
        @csrf_exempt
        @wraps(view)
        def answered(request: HttpRequest, *args: Any, **kwargs: Any) -> Any:
            mood = mood_of(store)
            if early := _before(store, mood):
                return early
            if mood == "expired" or not allowed(request):
                return JsonResponse({"message": "This key is not valid."}, status=401)
            if mood == "names-people" and request.method != "GET":
                return _refusing_by_name(request)
            try:
                found = view(request, *args, **kwargs)
            except Wrong as wrong:
                body = {"message": wrong.message, "code": wrong.code}
                return JsonResponse(body, status=wrong.status)
            return _after(mood) or found

        return answered

    return around


def _before(store: Store, mood: str) -> Any:
    match mood:
        case "slow":
            time.sleep(3)
        case "broken":
            return JsonResponse({"message": "Something broke here."}, status=500)
        case "rubbish":
            return HttpResponse("<html>Good morning</html>")
        case "wrong-types":
            return JsonResponse(["what", 7, None], safe=False)
        case "redirects":
            return HttpResponseRedirect("http://10.0.0.1/")
        case "huge":
            return HttpResponse(b" " * (100 * 2**20), content_type="application/json")
        case "limited" | "limited-silently":
            with _LIMIT:
                return _limited(store, mood)
    return None


def _limited(store: Store, mood: str) -> Any:
    last = [one for one in _spent(store) if one > time.time() - 10]
    if len(last) < 2:
        store.put("spent", {"id": "spent", "at": [*last, time.time()]})
        return None
    response = JsonResponse({"message": "Too many requests."}, status=429)
    if mood == "limited":
        response["Retry-After"] = str(int(10 - (time.time() - last[0])) + 1)
    return response


def _spent(store: Store) -> list[float]:
    found = store.get("spent", "spent")
    return found["at"] if found else []


def _refusing_by_name(request: HttpRequest) -> JsonResponse:
    """As services do that are not careful with whom they name."""
    body = body_of(request)
    many = body.get("people")
    if isinstance(many, list):
        said = [{"status": 422, "message": f"{one.get('email')} is blocked."} for one in many]
        return JsonResponse({"people": said})
    return JsonResponse({"message": f"{body.get('email')} is blocked."}, status=422)


def _after(mood: str) -> Any:
    if mood == "stores-and-breaks":
        return JsonResponse({"message": "Something broke here."}, status=500)
    if mood == "stores-and-hangs":
        time.sleep(60)
    return None


def body_of(request: HttpRequest) -> dict[str, Any]:
    """The JSON of a request."""
    try:
        found = json.loads(request.body or b"{}")
    except ValueError:
        raise Wrong(400, "This is not JSON.") from None
    if not isinstance(found, dict):
        raise Wrong(400, "An object was expected.")
    return found


def text_of(body: dict[str, Any], name: str) -> str:
    """A text that has to be there."""
    found = body.get(name)
    if not isinstance(found, str) or not found.strip():
        raise Wrong(422, f"{name} is missing.")
    return found.strip()
