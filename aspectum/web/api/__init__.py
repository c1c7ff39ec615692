"""The API, one blueprint a feature; OpenAPI is generated from the routes' types."""

from aspectum.web.api import (
    assignments,
    board,
    checking,
    classes,
    drawings,
    easel,
    exports,
    hand_ins,
    health,
    logbook,
    measuring,
    people,
    phone,
    pictures,
    plans,
    practice,
    room,
    sheets,
    stand_files,
    stands,
    timed,
    worksheets,
)

BLUEPRINTS = tuple(
    feature.blueprint
    for feature in (
        people,
        classes,
        assignments,
        hand_ins,
        board,
        room,
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
        worksheets,
        health,
    )
)
