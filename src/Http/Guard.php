<?php

declare(strict_types=1);

namespace Geschenk\App\Http;

use Geschenk\App\DataFolder;
use Geschenk\App\Http\Body\WrongBody;
use Geschenk\App\Words\Language;
use Geschenk\App\Words\Words;
use Geschenk\Core\Failure;
use Geschenk\Core\Files\Durable\DiskFull;
use Psr\Log\LoggerInterface;
use Symfony\Bundle\SecurityBundle\Security;
use Symfony\Component\EventDispatcher\EventSubscriberInterface;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpKernel\Event\ExceptionEvent;
use Symfony\Component\HttpKernel\Event\RequestEvent;
use Symfony\Component\HttpKernel\Event\ResponseEvent;
use Symfony\Component\HttpKernel\Exception\HttpExceptionInterface;
use Symfony\Component\HttpKernel\KernelEvents;
use Symfony\Component\Security\Core\Exception\AccessDeniedException;
use Symfony\Component\Security\Core\Exception\AuthenticationException;
use Symfony\Component\Security\Http\EntryPoint\AuthenticationEntryPointInterface;

/** What holds for every answer: strict headers, errors as problem details. */
final readonly class Guard implements EventSubscriberInterface
{
    public const NONCE = '_style_nonce';

    public function __construct(
        private Words $words,
        private Security $security,
        private AuthenticationEntryPointInterface $signIn,
        private LoggerInterface $logger,
        private DataFolder $data,
        private Language $language,
    ) {
    }

    public static function getSubscribedEvents(): array
    {
        return [
            KernelEvents::REQUEST => ['giveNonce', 300],
            KernelEvents::RESPONSE => 'harden',
            KernelEvents::EXCEPTION => [['askToSignIn', 20], ['explain', 10]],
        ];
    }

    public function giveNonce(RequestEvent $event): void
    {
        $event->getRequest()->attributes->set(self::NONCE, base64_encode(random_bytes(16)));
    }

    public function harden(ResponseEvent $event): void
    {
        $nonce = $event->getRequest()->attributes->get(self::NONCE);
        $headers = $event->getResponse()->headers;
        $headers->set(
            'Content-Security-Policy',
            sprintf(
                "default-src 'none'; script-src 'self'; style-src 'self' 'nonce-%s'; img-src 'self' data:; "
                    ."font-src 'self'; connect-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'",
                is_string($nonce) ? $nonce : '',
            ),
        );
        $headers->set('X-Content-Type-Options', 'nosniff');
        $headers->set('Referrer-Policy', 'no-referrer');
        $headers->set('Cross-Origin-Opener-Policy', 'same-origin');
        $headers->set('Cross-Origin-Resource-Policy', 'same-origin');
        $headers->set('Permissions-Policy', 'camera=(), microphone=(), geolocation=()');
        $headers->set('Cache-Control', 'no-store');
        if (str_starts_with($event->getRequest()->getPathInfo(), '/api/')) {
            // By it another window of the same user notices that it speaks another language.
            $headers->set('Content-Language', $this->language->current());
        }
    }

    /** Instead of the firewall, which would remember in a session of nobody where they wanted to go. */
    public function askToSignIn(ExceptionEvent $event): void
    {
        if ($event->getThrowable() instanceof AccessDeniedException && null === $this->security->getUser()) {
            $event->setResponse($this->signIn->start($event->getRequest()));
        }
    }

    public function explain(ExceptionEvent $event): void
    {
        if (!str_starts_with($event->getRequest()->getPathInfo(), '/api/')) {
            return;
        }
        $error = $event->getThrowable();
        if ($error instanceof HttpExceptionInterface) {
            $error = WrongBody::refusal($error) ?? $error;
        }
        if (DiskFull::isMeantBy($error)) {
            // RFC 4918: nothing can be stored.
            $event->setResponse($this->problem(507, 'went_wrong', $this->words->say('failure.disk_full_now')));
            $event->allowCustomResponseCode();
        } elseif ($error instanceof Failure) {
            $detail = $this->words->failure($error->reason, $this->data->withoutPlace($error->fields));
            $event->setResponse($this->problem(422, 'not_now', $detail));
        } elseif ($error instanceof HttpExceptionInterface) {
            $status = $error->getStatusCode();
            $known = 'failure.'.$error->getMessage();
            $detail = $this->words->say($this->words->has($known) ? $known : 'failure.not_found');
            $event->setResponse($this->problem($status, 404 === $status ? 'not_here' : 'not_now', $detail));
        } elseif (!$error instanceof AccessDeniedException && !$error instanceof AuthenticationException) {
            // Whoever answers keeps the framework from logging it.
            $this->logger->error('A request failed.', [
                'path' => $event->getRequest()->getPathInfo(), 'exception' => $error,
            ]);
            $event->setResponse($this->problem(500, 'went_wrong', $this->words->say('failure.server')));
            $event->allowCustomResponseCode();
        }
    }

    private function problem(int $status, string $title, string $detail): JsonResponse
    {
        return Problem::response($status, $this->words->say('problem.'.$title), $detail);
    }
}
