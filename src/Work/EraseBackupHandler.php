<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

use Symfony\Component\Messenger\Attribute\AsMessageHandler;

#[AsMessageHandler]
final readonly class EraseBackupHandler
{
    public function __construct(private Erasing $erasing)
    {
    }

    public function __invoke(EraseBackup $message): void
    {
        $this->erasing->doBackup($message->id);
    }
}
