<?php

declare(strict_types=1);

namespace Geschenk\App\Http;

use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpKernel\Event\ResponseEvent;

/**
 * A page asks the same again each second or so, and mostly nothing has changed: then it is told that, and no more.
 * Nothing is stored by that, in no browser and no proxy: the page holds what it has shown (RFC 9110, 13.1.2).
 */
final class Unchanged
{
    /** Before the headers of every answer are set. */
    #[AsEventListener(priority: 10)]
    public function tell(ResponseEvent $event): void
    {
        $request = $event->getRequest();
        $answer = $event->getResponse();
        if ($event->isMainRequest() && $request->isMethod('GET') && 200 === $answer->getStatusCode()
            && $answer instanceof JsonResponse) {
            $answer->setEtag(hash('xxh128', (string) $answer->getContent()), true);
            $answer->isNotModified($request);
        }
    }
}
