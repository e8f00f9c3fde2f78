<?php

declare(strict_types=1);

namespace Geschenk\App\Command;

use Geschenk\App\Refusal;
use Geschenk\App\Security\ShopKey;
use Geschenk\App\Words\Words;
use Geschenk\Core\Seal\KeyFailure;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

/** For whoever starts the shop: has its key told, and says why it can't be opened where it can't. */
#[AsCommand('shop:unlock', 'Takes the key of the shop: the file GESCHENK_KEY_FILE, or a passphrase that is asked for')]
final class ShopUnlockCommand extends Command
{
    use AsksPassphrase;
    use ReportsUnusableInput;

    private const ATTEMPTS = 3;

    public function __construct(private readonly ShopKey $key, private readonly Words $words)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addOption('into', null, InputOption::VALUE_REQUIRED, 'A file in memory, for what a passphrase makes');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        return $this->answer($output, function () use ($input, $output): int {
            $into = $input->getOption('into');
            match (true) {
                // Whoever says where a passphrase goes wants to be asked for it, whatever file is named for later.
                !is_string($into) => $this->key->isInFile() ? $this->key->takeFile() : throw KeyFailure::notTold(),
                !$this->key->isMade() => $this->key->takePassphrase($this->new($input, $output), $into),
                $this->key->isPassphrase() => $this->ask($into, $input, $output),
                default => throw Refusal::because('key_is_in_file'),
            };

            return Command::SUCCESS;
        });
    }

    private function ask(string $into, InputInterface $input, OutputInterface $output): void
    {
        $attempts = stream_isatty(\STDIN) ? self::ATTEMPTS : 1;
        for ($n = 1;; ++$n) {
            try {
                $this->key->takePassphrase(
                    self::asked($this->words->say('key.passphrase'), $input, $output), $into,
                );

                return;
            } catch (KeyFailure $failure) {
                if ($n >= $attempts) {
                    throw $failure;
                }
                $output->writeln($this->words->of($failure));
            }
        }
    }

    /** The first one: without it nobody opens what is kept here, so it is typed twice. */
    private function new(InputInterface $input, OutputInterface $output): string
    {
        $output->writeln($this->words->say('key.first'));
        $told = self::asked($this->words->say('key.new'), $input, $output);
        $again = self::asked($this->words->say('key.again'), $input, $output);

        return $told === $again ? $told : throw Refusal::because('passphrase_other');
    }
}
