<?php

declare(strict_types=1);

namespace Geschenk\App\Bench;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\Core\Phone\PhoneDirectory;
use Geschenk\Core\Phone\PhoneRefuses;
use Geschenk\Core\Phone\PhoneUnplugged;
use Psr\Log\LoggerInterface;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;

#[AsMessageHandler]
final readonly class LookAtPhoneHandler
{
    public function __construct(
        private PhoneDirectory $phones,
        private Looks $looks,
        private EntityManagerInterface $entities,
        private LoggerInterface $logger,
    ) {
    }

    public function __invoke(LookAtPhone $message): void
    {
        $this->entities->clear();
        try {
            $this->looks->look($this->phones->link($message->serial), $message->app);
        } catch (PhoneUnplugged|PhoneRefuses) {
            // The watch sees that too, and has it looked at again when the phone is back.
        } catch (\Throwable $error) {
            $this->logger->error('A look failed.', ['serial' => $message->serial, 'exception' => $error]);
        }
    }
}
