"""What both sides of the broker agree on: the task, its queues, how it is delivered."""

from typing import Any

from celery import Celery
from kombu import Exchange, Queue

from horismos.workflow.weights import Weight

__all__ = ["ANSWERS", "STEP", "WHO", "app_at", "own_queue", "priority_of", "queue_of"]

STEP = "horismos.step"
WHO = "horismos_worker"
"""A question that each worker answers: what it is, and what it does."""
ANSWERS = "horismos.answers."
DELIVERED_AGAIN_S = 3600
"""What a dead worker held is delivered again after so long; whoever waits for it has asked again long before."""
OWN_GOES_AFTER_S = 600.0
FIRST, NEXT, LAST = 0, 3, 6
_PRIORITIES = {Weight.SMALL: NEXT, Weight.USUAL: 4, Weight.LARGE: LAST}


def app_at(broker: str) -> Celery:
    """Celery at a broker. A message is taken when there is room for it, one at a time, and is done with when the work
    is: what a worker held that dies is not lost.
    """
    app = Celery("horismos", broker=broker, set_as_current=False)
    redis = {"priority_steps": [FIRST, NEXT, 4, LAST], "queue_order_strategy": "priority",
             "visibility_timeout": DELIVERED_AGAIN_S}
    app.conf.update(
        task_acks_late=True, task_reject_on_worker_lost=True, task_ignore_result=True,
        worker_prefetch_multiplier=1, worker_send_task_events=False, worker_hijack_root_logger=False,
        task_serializer="msgpack", accept_content=["msgpack", "json"], task_create_missing_queues=True,
        task_default_queue="horismos.small", broker_connection_retry=True,
        broker_connection_retry_on_startup=True, broker_connection_max_retries=None,
        worker_cancel_long_running_tasks_on_connection_loss=False, broker_heartbeat=10,
        broker_transport_options={**(redis if broker.startswith("redis") else {}), "socket_connect_timeout": 3},
    )
    return app


def queue_of(weight: Weight) -> Queue:
    """The queue for steps on files of a weight."""
    return _queue(f"horismos.{weight}")


def own_queue(worker: str, broker: str) -> Queue:
    """The queue that one worker alone hears: it has just read the file, and knows what it found.

    It goes some time after its worker, where the broker keeps queues that nobody hears (RabbitMQ).
    """
    return _queue(f"horismos.at.{worker}", OWN_GOES_AFTER_S if broker.startswith("amqp") else None)


def _queue(name: str, goes_after_s: float | None = None) -> Queue:
    return Queue(name, Exchange(name, type="direct"), routing_key=name, durable=True, expires=goes_after_s)


def priority_of(weight: Weight | None) -> dict[str, Any]:
    """What says that light steps go first, and what goes to one worker before all; where the broker knows of it."""
    return {"priority": FIRST if weight is None else _PRIORITIES[weight]}
