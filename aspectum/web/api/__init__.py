"""The API, one blueprint a feature; OpenAPI is generated from the routes' types."""

from aspectum.web.api import (
    checking,
    classes,
    drawings,
    easel,
    exports,
    logbook,
    measuring,
    people,
    phone,
    pictures,
    plans,
    practice,
    sheets,
    stand_files,
    stands,
    timed,
)

BLUEPRINTS = tuple(
    feature.blueprint
    for feature in (
        people,
        classes,
        phone,
        sheets,
        checking,
        drawings,
        measuring,
        pictures,
        exports,
        easel,
        plans,
        stands,
        stand_files,
        practice,
        logbook,
        timed,
    )
)
