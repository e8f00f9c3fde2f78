<?php

declare(strict_types=1);

namespace Geschenk\App\Command;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\User;
use Geschenk\App\Log\ShopLog;
use Geschenk\App\Records;
use Geschenk\App\Refusal;
use Geschenk\App\Security\Passwords;
use Geschenk\App\Words\Words;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Symfony\Component\Console\Style\SymfonyStyle;

/** The users of a shop, for whoever may start commands on its computer; the log says so. */
#[AsCommand('user', 'Adds a user, gives one another password, or ends that one signs in')]
final class UserCommand extends Command
{
    use ReportsUnusableInput;

    private const BY = 'console';

    public function __construct(
        private readonly EntityManagerInterface $entities,
        private readonly Records $records,
        private readonly Passwords $passwords,
        private readonly ShopLog $log,
        private readonly Words $words,
    ) {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('act', InputArgument::REQUIRED, 'add, password, disable or enable')
            ->addArgument('name', InputArgument::REQUIRED, 'what they sign in as')
            ->addOption('display-name', null, InputOption::VALUE_REQUIRED, 'what others read; the name, if not told')
            ->addOption('manager', null, InputOption::VALUE_NONE, 'may read the log too')
            ->setHelp('A password is asked for, or read as the first line of the standard input.');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        return $this->answer($output, function () use ($input, $output): int {
            [$act, $name] = [$input->getArgument('act'), $input->getArgument('name')];
            if (!is_string($name) || 1 !== preg_match('/^[a-z][a-z0-9._-]{0,59}$/D', $name)) {
                throw Refusal::because('user_name');
            }
            $done = match ($act) {
                'add' => $this->add($name, $input, $output),
                'password' => $this->password($name, $input, $output),
                'disable' => $this->disable($name, true),
                'enable' => $this->disable($name, false),
                default => throw Refusal::because('user_act'),
            };
            $output->writeln($this->words->say('log.'.$done, ['name' => $name]));

            return Command::SUCCESS;
        });
    }

    private function add(string $name, InputInterface $input, OutputInterface $output): string
    {
        $shown = $input->getOption('display-name');
        $user = new User(
            $name, is_string($shown) && '' !== trim($shown) ? mb_substr(mb_scrub(trim($shown)), 0, 120) : $name,
            true === $input->getOption('manager') ? User::MANAGER : User::TECHNICIAN,
        );
        $this->passwords->give($user, self::told($input, $output));
        $this->records->change(function () use ($user, $name): void {
            if (null !== $this->find($name)) {
                throw Refusal::because('user_there', ['name' => $name]);
            }
            $this->entities->persist($user);
            $this->log->note(self::BY, 'user_added', null, ['name' => $name]);
        });

        return 'user_added';
    }

    private function password(string $name, InputInterface $input, OutputInterface $output): string
    {
        $told = self::told($input, $output);
        $this->records->change(function () use ($name, $told): void {
            $this->passwords->give($this->get($name), $told);
            $this->log->note(self::BY, 'user_password', null, ['name' => $name]);
        });

        return 'user_password';
    }

    private function disable(string $name, bool $isDisabled): string
    {
        $act = $isDisabled ? 'user_disabled' : 'user_enabled';
        $this->records->change(function () use ($name, $isDisabled, $act): void {
            $this->get($name)->disable($isDisabled);
            $this->log->note(self::BY, $act, null, ['name' => $name]);
        });

        return $act;
    }

    private function find(string $name): ?User
    {
        return $this->entities->getRepository(User::class)->findOneBy(['username' => $name]);
    }

    /** @throws Refusal */
    private function get(string $name): User
    {
        return $this->find($name) ?? throw Refusal::because('user_unknown', ['name' => $name]);
    }

    /** Never as an argument, which everybody on the computer can read. */
    private static function told(InputInterface $input, OutputInterface $output): string
    {
        if ($input->isInteractive() && stream_isatty(\STDIN)) {
            $asked = (new SymfonyStyle($input, $output))->askHidden('Password');

            return is_string($asked) ? $asked : '';
        }

        return rtrim((string) fgets(\STDIN, 4_096), "\r\n");
    }
}
