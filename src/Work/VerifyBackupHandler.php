<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

use Symfony\Component\Messenger\Attribute\AsMessageHandler;

#[AsMessageHandler]
final readonly class VerifyBackupHandler
{
    public function __construct(private Verifying $verifying)
    {
    }

    public function __invoke(VerifyBackup $message): void
    {
        $this->verifying->do($message->id);
    }
}
