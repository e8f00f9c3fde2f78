<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

use Geschenk\App\Tray\Holdings;
use Geschenk\Core\Phone\PhoneDirectory;
use Geschenk\Core\Phone\PhoneRefuses;
use Geschenk\Core\Phone\PhoneUnplugged;
use Psr\Log\LoggerInterface;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;

#[AsMessageHandler]
final readonly class LookAtPhoneHandler
{
    public function __construct(private PhoneDirectory $phones, private Holdings $holdings, private LoggerInterface $logger)
    {
    }

    public function __invoke(LookAtPhone $message): void
    {
        try {
            $this->holdings->look($this->phones->link($message->serial), $message->app);
        } catch (PhoneUnplugged|PhoneRefuses) {
            // Whoever asks again is told so by the phone itself.
        } catch (\Throwable $error) {
            $this->logger->error('A look at a phone failed.', ['serial' => $message->serial, 'exception' => $error]);
        }
    }
}
