"""The API, one blueprint a feature; OpenAPI is generated from the routes' types."""

from aspectum.web.api import checking, drawings, easel, exports, logbook, measuring, pictures, plans, practice, sheets, stand_files, stands, timed

BLUEPRINTS = tuple(
    feature.blueprint for feature in (sheets, checking, drawings, measuring, pictures, exports, easel, plans, stands, stand_files, practice, logbook, timed)
)
