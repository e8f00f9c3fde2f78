<?php

declare(strict_types=1);

namespace Geschenk\App\Http;

use Geschenk\App\Words\Words;
use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Component\EventDispatcher\EventSubscriberInterface;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpKernel\Event\RequestEvent;
use Symfony\Component\HttpKernel\KernelEvents;

/**
 * What a request has to be before anybody looks at what it asks for. It judges by the method alone, never by what the
 * path looks like: the same address can be written in many ways.
 */
final readonly class Gate implements EventSubscriberInterface
{
    public const TOKEN_HEADER = 'X-Geschenk-Token';
    /** Bytes; the longest honest request names all conversations of a large backup. */
    private const LONGEST_BODY = 262_144;
    /** Bytes of a piece of a file, which is sent with PATCH and as what it is: nothing else is sent that way. */
    public const PIECE = 4_194_304;
    private const OF_PIECES = 'application/octet-stream';

    /** Names of this computer itself. */
    private const OWN_HOSTS = ['127.0.0.1', 'localhost', '[::1]'];

    public function __construct(
        private Tokens $tokens,
        private Words $words,
        #[Autowire('%env(GESCHENK_HOSTS)%')]
        private string $hosts,
    ) {
    }

    public static function getSubscribedEvents(): array
    {
        return [
            // The size before anything reads the body; the rest before the firewall, for signing in needs a token too.
            KernelEvents::REQUEST => [['knowHost', 290], ['boundBody', 280], ['admitChange', 20]],
        ];
    }

    /** A name that somebody else has pointed at this computer is not answered, nor told back. */
    public function knowHost(RequestEvent $event): void
    {
        $host = $event->getRequest()->getHost();
        $others = array_map(trim(...), explode(',', $this->hosts));
        if ('' === $host || !in_array($host, [...self::OWN_HOSTS, ...$others], true)) {
            $this->refuse($event, 421, 'not_now', 'other_host');
        }
    }

    public function boundBody(RequestEvent $event): void
    {
        $headers = $event->getRequest()->headers;
        $longest = self::isPiece($event->getRequest()) ? self::PIECE : self::LONGEST_BODY;
        $length = $headers->get('Content-Length');
        if ($headers->has('Transfer-Encoding') || (null !== $length && 1 !== preg_match('/^\d{1,9}$/D', $length))) {
            $this->refuse($event, 411, 'not_now', 'body_without_length');
        } elseif ((int) $length > $longest) {
            $this->refuse($event, 413, 'not_now', 'body_too_long');
        }
    }

    public function admitChange(RequestEvent $event): void
    {
        $request = $event->getRequest();
        if ($request->isMethodSafe()) {
            // Nothing in the body of a question is taken for an answer: a sign-in that is asked for with GET is none.
            $request->headers->remove('Content-Type');
            // A page of another place, be it another port of this computer, asks for nothing in somebody's name.
            $site = $request->headers->get('Sec-Fetch-Site');
            if (!in_array($site, [null, 'same-origin', 'none'], true)
                && 1 === preg_match('#^/+(?:api/|trays/\d+/sheet)#', rawurldecode($request->getPathInfo()))) {
                $this->refuse($event, 403, 'not_now', 'other_origin');
            }

            return;
        }
        if (!self::isFromHere($request)) {
            $this->refuse($event, 403, 'not_now', 'other_origin');
        } elseif (!self::isPiece($request) && '' !== $request->getContent()
            && 'json' !== $request->getContentTypeFormat()) {
            $this->refuse($event, 415, 'not_now', 'no_json');
        } elseif (!$this->tokens->isValid($request, (string) $request->headers->get(self::TOKEN_HEADER))) {
            $this->refuse($event, 403, 'out_of_date', 'page_out_of_date');
        }
    }

    public static function isPiece(Request $request): bool
    {
        return $request->isMethod('PATCH') && self::OF_PIECES === $request->headers->get('Content-Type');
    }

    /** Browsers say where a request comes from; another port of this computer is another place. */
    private static function isFromHere(Request $request): bool
    {
        $site = $request->headers->get('Sec-Fetch-Site');
        $origin = $request->headers->get('Origin');

        return in_array($site, [null, 'same-origin'], true)
            && in_array($origin, [null, $request->getSchemeAndHttpHost()], true);
    }

    private function refuse(RequestEvent $event, int $status, string $title, string $why): void
    {
        $event->setResponse(Problem::response(
            $status, $this->words->say('problem.'.$title), $this->words->failure($why),
        ));
    }
}
